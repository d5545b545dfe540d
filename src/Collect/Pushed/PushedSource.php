<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Pushed;

use Olivine\App\Collect\Asking;
use Olivine\App\Collect\Entity\Pushed;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\PushedRepository;
use Olivine\App\Collect\Source;
use Olivine\App\Collect\SourceKind;
use Olivine\App\Collect\Taken;
use Olivine\App\Collect\TargetReaders;
use Olivine\App\Collect\Tick;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\Core\Time\Instant;

/**
 * Sources that are not asked: what they handed in last is noted again and again while it holds, and ends where it does not.
 *
 * A copy that runs at 02:00 for forty seconds hands in `rows_copied 1200`; until it hands in another, says that it is over, or a day
 * has gone, each look finds 1,200.
 */
final class PushedSource implements Source
{
    private const ROOM = 500;

    /** @var list<PushedLook> */
    private array $looks = [];

    public function __construct(
        private readonly TargetReaders $readers,
        private readonly PushedRepository $pushed,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    public function asks(Target $target): bool
    {
        return $target->kind === SourceKind::Pushed;
    }

    public function isAskedHere(Target $target): bool
    {
        return true;
    }

    public function room(): int
    {
        return self::ROOM - count($this->looks);
    }

    public function inFlight(): int
    {
        return count($this->looks);
    }

    public function start(Target $target, int $dueMs): void
    {
        try {
            $look = self::look($target, $dueMs, $this->pushed->last($target->id()), $this->clock->now());
            $look->endedAt = microtime(true);
        } catch (\Throwable $fault) {
            if (Database::mayPass($fault)) {
                throw $fault;
            }
            $look = new PushedLook($target, $dueMs);
            $look->fail("What it handed in cannot be read any more: {$fault->getMessage()}");
        }
        $this->looks[] = $look;
    }

    public function advance(float $seconds): array
    {
        [$ended, $this->looks] = [$this->looks, []];

        return $ended;
    }

    public function read(Asking $asking, Taken $taken): void
    {
        if (!$asking instanceof PushedLook) {
            throw new \LogicException('This was asked otherwise');
        }
        [$taken->form, $taken->bytes] = [$asking->form, strlen($asking->text ?? '')];
        if ($asking->fault !== null) {
            return;
        }
        $reader = $this->readers->of($asking->target);
        if ($asking->text !== null) {
            $taken->take($reader, $reader->read($asking->text, $asking->form, $taken->atMs));

            return;
        }
        $words = $asking->endedOn === null ? 'Nothing was handed in yet' : 'What it handed in last holds no more';
        $taken->noted($reader->end($taken->atMs), 0, $words, Tick::Taken);
    }

    public function note(Asking $asking, Taken $taken): void
    {
        // What is noted of it are its readings.
    }

    public function keep(array $taken): void
    {
    }

    public function renew(): void
    {
        $this->readers->renew();
    }

    public function forget(int $targetId): void
    {
        $this->readers->forget($targetId);
    }

    public function abandon(): void
    {
        $this->readers->forgetAll();
        $this->looks = [];
    }

    private static function look(Target $target, int $dueMs, ?Pushed $last, Instant $now): PushedLook
    {
        return $last === null || !$now->isBefore($last->endsAt)
            ? new PushedLook($target, $dueMs, endedOn: $last?->endsAt)
            : new PushedLook($target, $dueMs, $last->text(), $last->form);
    }
}
