<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\SourceKind;

/** Asks checks of all kinds, each kind by its asker, many at once in one process, here or at a station. */
final class CheckAskers
{
    /** @var array<string, Asker> kind → who asks it */
    private readonly array $askers;
    /** @var list<FailedRun> that came to nothing before they began */
    private array $failed = [];

    private readonly Ways $ways;

    public function __construct(HttpAsker $http, SocketAsker $sockets, SqlAsker $databases, MailAsker $mail, ReplicationAsker $replication)
    {
        $this->ways = new Ways();
        $this->askers = [
            SourceKind::Http->value => $http,
            SourceKind::Tcp->value => $sockets,
            SourceKind::Tls->value => $sockets,
            SourceKind::Dns->value => $sockets,
            SourceKind::Ping->value => $sockets,
            SourceKind::Sql->value => $databases,
            SourceKind::Mail->value => $mail,
            SourceKind::Replication->value => $replication,
        ];
    }

    /** @return int how many more may be asked at once */
    public function room(): int
    {
        return min(array_map(static fn(Asker $asker): int => $asker->room(), $this->askers));
    }

    public function inFlight(): int
    {
        return count($this->failed) + array_sum(array_map(static fn(Asker $asker): int => $asker->inFlight(), $this->each()));
    }

    public function begin(Target $target, ?int $dueMs, int $place): void
    {
        $asker = $this->askers[$target->kind->value] ?? throw new \LogicException("Nobody asks {$target->kind->value}");
        try {
            $asker->start($asker->made($target, $dueMs, $place));
        } catch (\Throwable $error) {
            $this->failed[] = new FailedRun($target, $dueMs, $place, "It cannot be asked as it is set up: {$error->getMessage()}");
        }
    }

    /** @return list<CheckRun> those that ended */
    public function advance(float $seconds): array
    {
        $ended = $this->failed;
        $this->failed = [];
        $busy = array_filter($this->each(), static fn(Asker $asker): bool => $asker->inFlight() > 0);
        foreach ($busy as $asker) {
            $ended = [...$ended, ...$asker->advance($ended === [] ? $seconds / count($busy) : 0.0)];
        }

        $this->ways->advance();
        array_map($this->ways->follow(...), $ended);

        return $ended;
    }

    /** Lets go of whatever is being asked. */
    public function abandon(): void
    {
        array_map(static fn(Asker $asker) => $asker->abandon(), $this->askers);
        $this->failed = [];
        $this->ways->abandon();
    }

    /** @return list<Asker> one may ask several kinds */
    private function each(): array
    {
        $each = [];
        foreach ($this->askers as $asker) {
            $each[spl_object_id($asker)] = $asker;
        }

        return array_values($each);
    }
}
