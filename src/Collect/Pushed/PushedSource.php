<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Pushed;

use Olivine\App\Collect\Asking;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\KnownSource;
use Olivine\App\Collect\Repository\PushedRepository;
use Olivine\App\Collect\SourceKind;
use Olivine\App\Collect\Taken;
use Olivine\App\Collect\TargetReaders;
use Olivine\App\Collect\Tick;
use Olivine\App\Platform\Clock;

/**
 * Sources that hand their readings in: what they handed in last is noted again and again while it holds, and ends where it does not.
 *
 * A copy that runs at 02:00 for forty seconds hands in `rows_copied 1200`; until it hands in another, says that it is over, or a day
 * has gone, each look finds 1,200.
 */
final class PushedSource extends KnownSource
{
    public function __construct(
        private readonly TargetReaders $readers,
        private readonly PushedRepository $pushed,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    protected function kind(): SourceKind
    {
        return SourceKind::Pushed;
    }

    protected function look(Target $target, int $dueMs): PushedLook
    {
        $last = $this->pushed->last($target->id());

        return $last === null || !$this->clock->now()->isBefore($last->endsAt)
            ? new PushedLook($target, $dueMs, endedOn: $last?->endsAt)
            : new PushedLook($target, $dueMs, $last->text(), $last->form);
    }

    protected function none(Target $target, int $dueMs): PushedLook
    {
        return new PushedLook($target, $dueMs);
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
        parent::abandon();
        $this->readers->forgetAll();
    }
}
