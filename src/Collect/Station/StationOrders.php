<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

use Olivine\App\Collect\Check\CheckSecrets;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;

/** What is asked from a place: the checks that name it, with what is filled into them, and the revision of all that. */
final readonly class StationOrders
{
    public function __construct(private Database $database, private TargetRepository $targets, private CheckSecrets $secrets)
    {
    }

    /** @return string another one where anything of them changed; cheap, since each station asks for it each second */
    public function revision(int $place): string
    {
        $told = $this->database->connection->fetchOne(
            "SELECT CONCAT_WS(' ', COUNT(*), SUM(CRC32(CONCAT_WS(' ', id, name, kind, interval_seconds, asks, IFNULL(secrets, '-'),
                IFNULL(slow_ms, '-'), is_reference)))) FROM target
             WHERE kind NOT IN (?, ?) AND paused = 0 AND removed_at IS NULL AND JSON_CONTAINS(places, ?)",
            [SourceKind::Scrape->value, SourceKind::Job->value, (string) $place],
        );

        return substr(hash('sha256', "{$place} " . Scalar::text($told)), 0, 16);
    }

    /** @return list<array<string, mixed>> */
    public function checks(int $place): array
    {
        $orders = [];
        foreach ($this->targets->checks() as $check) {
            if (!$check->paused && in_array($place, $check->places, true)) {
                $orders[] = $this->order($check);
            }
        }

        return $orders;
    }

    /** @return array<string, mixed> */
    private function order(Target $check): array
    {
        $secrets = $this->secrets->open($check);

        return [
            'id' => $check->id(),
            'name' => $check->name,
            'kind' => $check->kind->value,
            'asks' => $check->asks,
            'intervalSeconds' => $check->intervalSeconds,
            'slowMs' => $check->slowMs,
            'isReference' => $check->isReference,
            'secrets' => (object) $secrets->values,
            'origins' => $secrets->origins,
        ];
    }
}
