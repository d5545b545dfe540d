<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Answer\TrailLine as ShownLine;
use Olivine\App\Delivery\Entity\TrailLine;
use Olivine\App\Platform\Database;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Time\Instant;

/** The recorded reasons of an incident: what happened, who was told and how, and why not. */
final readonly class Trail
{
    private const LONGEST_WORDS = 2_000;

    public function __construct(private Database $database, private EntityManagerInterface $entities)
    {
    }

    /** @param string|null $onceKey a line with the same key is written once however often the work is done */
    public function add(int $incidentId, Instant $at, TrailKind $kind, string $words, ?string $onceKey = null): void
    {
        $this->database->insertNew(
            'trail',
            ['incident_id', 'at', 'kind', 'words', 'once_key'],
            [[$incidentId, $at->ms, $kind->value, mb_substr($words, 0, self::LONGEST_WORDS), $onceKey]],
        );
    }

    /** @return list<ShownLine> in the order of their times */
    public function of(int $incidentId): array
    {
        /** @var list<TrailLine> $lines */
        $lines = $this->entities
            ->getRepository(TrailLine::class)
            ->findBy(['incidentId' => $incidentId], ['at' => 'ASC', 'id' => 'ASC']);

        return array_map(
            static fn(TrailLine $line): ShownLine => new ShownLine((int) $line->id, $line->at, $line->kind->value, $line->words),
            $lines,
        );
    }

    /** A mark that moves with every line: what was shown before it may be old. */
    public function mark(): int
    {
        return (int) $this->entities->createQuery('SELECT MAX(t.id) FROM ' . TrailLine::class . ' t')->getSingleScalarResult();
    }
}
