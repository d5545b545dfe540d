<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Answer\CheckState;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Taken;
use Olivine\App\Collect\Tick;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Check\Verdict;

/**
 * How each check stands, place by place, and what was seen when it failed: written by the collector with each batch.
 *
 * What is seen again and again is kept once every five minutes: a shop that is down for an hour and asked every five seconds
 * leaves twelve pieces of evidence, not 720, and each change of its words one more.
 */
final class CheckStates
{
    private const STATES_A_STATEMENT = 200;
    private const AGAIN_MS = 300_000;
    private const LONGEST_WORDS = 1_000;
    /** Of one check from one place. */
    public const MOST_KEPT = 200;
    /** Of all checks together; above that the oldest goes, whatever it is kept for. */
    public const MOST_BYTES = 2_000_000_000;

    /** @var array<string, array{string, int}> target and place → what was kept last, and when */
    private array $kept = [];

    public function __construct(private readonly Database $database, private readonly Clock $clock = new Clock())
    {
    }

    /** @param list<Taken> $taken within the transaction that writes their readings */
    public function keep(array $taken): void
    {
        foreach (array_chunk($taken, self::STATES_A_STATEMENT) as $chunk) {
            $this->keepStates($chunk);
        }
        $rows = [];
        foreach ($taken as $one) {
            $row = $this->evidence($one);
            if ($row !== null) {
                $rows[] = $row;
            }
        }
        $this->database->insertNew('evidence', ['target_id', 'place', 'at', 'verdict', 'words', 'seconds', 'steps', 'kept', 'bytes'], $rows);
    }

    /** @param list<Taken> $taken */
    private function keepStates(array $taken): void
    {
        $rows = [];
        foreach ($taken as $one) {
            if ($one->run !== null && $one->judgement !== null) {
                $rows[] = [
                    $one->asking->target->id(),
                    $one->run->place,
                    $one->atMs,
                    $one->judgement->verdict->value,
                    $one->atMs,
                    self::words($one->judgement->words),
                    $one->asking->seconds(),
                    $one->tick(),
                ];
            }
        }
        if ($rows === []) {
            return;
        }
        $this->database->connection->executeStatement(
            'INSERT INTO check_state (target_id, place, at, verdict, since_at, words, seconds, ticks) VALUES ' .
                implode(', ', array_fill(0, count($rows), '(?, ?, ?, ?, ?, ?, ?, ?)')) .
                ' ON DUPLICATE KEY UPDATE at = VALUES(at), since_at = IF(verdict = VALUES(verdict), since_at, VALUES(since_at)),
             verdict = VALUES(verdict), words = VALUES(words), seconds = VALUES(seconds), ticks = ' .
                Tick::behind('VALUES(ticks)'),
            array_merge(...$rows),
        );
    }

    /** @return list<int|float|string|null>|null a row; null where nothing is kept of it */
    private function evidence(Taken $one): ?array
    {
        [$run, $judgement] = [$one->run, $one->judgement];
        if ($run === null || $judgement === null) {
            return null;
        }
        $key = "{$one->asking->target->id()} {$run->place}";
        if ($judgement->verdict === Verdict::Runs) {
            unset($this->kept[$key]);

            return null;
        }
        [$words, $at] = $this->kept[$key] ?? ['', 0];
        // Where the transaction is tried again, it is the same asking that comes again.
        $isSame = $words === $judgement->words && $at !== $one->atMs && $at > $one->atMs - self::AGAIN_MS;
        if ($isSame && !$run->bringsAWay()) {
            return null;
        }
        $this->kept[$key] = [$judgement->words, $one->atMs];
        $answer = $run->lastAnswer();
        $kept = $answer === '' ? null : (string) gzdeflate($answer);
        $steps = json_encode($run->stepsAndWay(), JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE);

        return [
            $one->asking->target->id(),
            $run->place,
            $one->atMs,
            $judgement->verdict->value,
            self::words($judgement->words),
            $one->asking->seconds(),
            $steps,
            $kept,
            strlen($steps) + strlen((string) $kept),
        ];
    }

    private static function words(string $words): string
    {
        return mb_substr(mb_scrub($words), 0, self::LONGEST_WORDS);
    }

    /**
     * @param int|null $targetId of one check; null: of all
     *
     * @return array<int, list<CheckState>> check → how it stands from each place
     */
    public function all(?int $targetId = null): array
    {
        $rows = $this->database->connection->iterateAssociative(
            'SELECT s.*, t.interval_seconds, t.paused FROM check_state s JOIN target t ON t.id = s.target_id
             WHERE ? IN (0, s.target_id) AND JSON_CONTAINS(t.places, s.place) ORDER BY s.target_id, s.place',
            [$targetId ?? 0],
        );
        $now = $this->clock->now()->ms;
        $states = [];
        foreach ($rows as $row) {
            $at = Scalar::int($row['at']);
            $staleMs = 1000 * Target::STALE_INTERVALS * Scalar::int($row['interval_seconds']);
            $states[Scalar::int($row['target_id'])][] = new CheckState(
                place: Scalar::int($row['place']),
                at: $at,
                verdict: Scalar::text($row['verdict']),
                since: Scalar::int($row['since_at']),
                words: Scalar::text($row['words']),
                seconds: Scalar::float($row['seconds']),
                overdue: Scalar::int($row['paused']) === 0 && $at < $now - $staleMs,
                ticks: Scalar::text($row['ticks']),
            );
        }

        return $states;
    }

    /** What is past its time, and what is more than may be kept of one check, or of all. */
    public function forgetBefore(int $beforeMs, int $mostBytes = self::MOST_BYTES): void
    {
        $connection = $this->database->connection;
        $connection->executeStatement('DELETE FROM evidence WHERE at < ?', [$beforeMs]);
        $many = $connection->fetchAllNumeric(
            'SELECT target_id, place FROM evidence GROUP BY target_id, place HAVING COUNT(*) > ' . self::MOST_KEPT,
        );
        foreach ($many as [$target, $place]) {
            $oldest = $connection->fetchOne(
                'SELECT at FROM evidence WHERE target_id = ? AND place = ? ORDER BY at DESC LIMIT 1 OFFSET ' . self::MOST_KEPT,
                [$target, $place],
            );
            $connection->executeStatement('DELETE FROM evidence WHERE target_id = ? AND place = ? AND at <= ?', [$target, $place, $oldest]);
        }
        $tooOld = $connection->fetchOne(
            'SELECT MAX(at) FROM (SELECT at, SUM(bytes) OVER (ORDER BY at DESC, id DESC) AS together FROM evidence) AS newest WHERE together > ?',
            [$mostBytes],
        );
        if (is_numeric($tooOld)) {
            $connection->executeStatement('DELETE FROM evidence WHERE at <= ?', [$tooOld]);
        }
    }
}
