<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Platform\Database;

/** The recorded reasons of an incident: what happened, who was told and how, and why not. */
final readonly class Trail
{
    public function __construct(private Database $database)
    {
    }

    /** @param string|null $onceKey a line with the same key is written once however often the work is done */
    public function add(int $incidentId, int $atMs, TrailKind $kind, string $words, ?string $onceKey = null): void
    {
        $this->database->insertNew(
            'trail',
            ['incident_id', 'at', 'kind', 'words', 'once_key'],
            [[$incidentId, $atMs, $kind->value, mb_substr($words, 0, 2000), $onceKey]],
        );
    }

    /** @return list<array{id: int, at: int, kind: string, words: string}> */
    public function of(int $incidentId): array
    {
        return array_map(
            static fn(array $row): array => [
                'id' => (int) $row['id'],
                'at' => (int) $row['at'],
                'kind' => (string) $row['kind'],
                'words' => (string) $row['words'],
            ],
            $this->database->connection->fetchAllAssociative(
                'SELECT id, at, kind, words FROM trail WHERE incident_id = ? ORDER BY at, id',
                [$incidentId],
            ),
        );
    }
}
