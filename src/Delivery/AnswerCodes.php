<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Three letters by which a person says which incident a short answer is of: `ok k7q`. They say nothing to anybody else, and prove
 * nothing by themselves: who answers is proven by where the answer comes from.
 */
final readonly class AnswerCodes
{
    private const VALID_DAYS = 3;
    private const LETTERS = 'abcdefghjkmnpqrstuvwxyz';
    private const DIGITS = '23456789';
    private const TRIES = 50;

    public function __construct(private Database $database)
    {
    }

    /** The same for every message of an incident to a person. */
    public function of(int $incident, int $person, Instant $now): string
    {
        $ends = $now->plus(Duration::ofDays(self::VALID_DAYS))->ms;
        $there = $this->database->connection->fetchOne(
            'SELECT code FROM answer_code WHERE person_id = ? AND incident_id = ? AND ends_at > ?',
            [$person, $incident, $now->ms],
        );
        if (is_string($there)) {
            return $there;
        }
        $this->database->connection->executeStatement('DELETE FROM answer_code WHERE person_id = ? AND ends_at <= ?', [$person, $now->ms]);
        for ($try = 0; $try < self::TRIES; ++$try) {
            $code = self::made();
            $isNew = $this->database->connection->executeStatement(
                'INSERT IGNORE INTO answer_code (person_id, code, incident_id, ends_at) VALUES (?, ?, ?, ?)',
                [$person, $code, $incident, $ends],
            );
            if ($isNew === 1) {
                return $code;
            }
        }

        throw new \RuntimeException('There are as many codes to answer with as there may be');
    }

    /** @return int|null the incident that a code of this person is of; null where it is none, or has ended */
    public function incident(int $person, string $code, Instant $now): ?int
    {
        $found = $this->database->connection->fetchOne(
            'SELECT incident_id FROM answer_code WHERE person_id = ? AND code = ? AND ends_at > ?',
            [$person, $code, $now->ms],
        );

        return $found === false ? null : Scalar::int($found);
    }

    /** @return list<int> incidents that this person was asked to answer of late, the newest first */
    public function asked(int $person, Instant $now): array
    {
        $found = $this->database->connection->fetchFirstColumn(
            'SELECT incident_id FROM answer_code WHERE person_id = ? AND ends_at > ? ORDER BY ends_at DESC, incident_id DESC',
            [$person, $now->ms],
        );

        return array_values(array_map(Scalar::int(...), $found));
    }

    private static function made(): string
    {
        $letter = static fn(string $of): string => $of[random_int(0, strlen($of) - 1)];

        return $letter(self::LETTERS) . $letter(self::DIGITS) . $letter(self::LETTERS);
    }
}
