<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\App\Platform\Answer\SetAside as AsideItem;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * What a part could not handle: the item is put aside with its reason, so that all else goes on, and it is seen on Watch
 * and in Olivine's own figures for as long as it stays so.
 */
final class SetAside
{
    private const LONGEST_SUBJECT = 190;
    private const LONGEST_REASON = 1_000;
    private const SHOWN = 50;
    private const KEPT_DAYS = 7;

    private const LOOKED_UP_EVERY_MS = 60_000;

    /** @var array<string, array<string, true>> part → subject, as looked up or done since */
    private array $known = [];
    /** @var array<string, int> part → when it was looked up */
    private array $knownAt = [];

    public function __construct(private readonly Database $database, private readonly Clock $clock = new Clock())
    {
    }

    public function put(string $part, string $subject, string $reason, Instant $now): void
    {
        $subject = self::fitting($subject, self::LONGEST_SUBJECT);
        $this->known[$part][$subject] = true;
        $this->database->connection->executeStatement(
            'INSERT INTO set_aside (part, subject, first_at, at, times, reason) VALUES (:part, :subject, :now, :now, 1, :reason)
             ON DUPLICATE KEY UPDATE at = :now, times = times + 1, reason = :reason',
            ['part' => $part, 'subject' => $subject, 'now' => $now->ms, 'reason' => self::fitting($reason, self::LONGEST_REASON)],
        );
    }

    /**
     * Does it, or sets it aside. What passes by itself, such as a lost connection, goes on to whoever can wait for that.
     *
     * @param callable(): mixed $do
     */
    public function unless(string $part, string $subject, callable $do): void
    {
        try {
            $do();
            $this->over($part, $subject);
        } catch (\Throwable $error) {
            if (Database::mayPass($error) || $error instanceof LeaseLost) {
                throw $error;
            }
            $this->database->recover();
            $this->put($part, $subject, $error->getMessage(), $this->clock->now());
        }
    }

    /** May be said of everything that went well: only what is known to be set aside costs a question. */
    public function over(string $part, string $subject): void
    {
        $subject = self::fitting($subject, self::LONGEST_SUBJECT);
        if (isset($this->known($part)[$subject])) {
            $this->database->connection->executeStatement('DELETE FROM set_aside WHERE part = ? AND subject = ?', [
                $part,
                $subject,
            ]);
            unset($this->known[$part][$subject]);
        }
    }

    /** @return bool whether it was there: somebody has seen it, and it need not be shown any more */
    public function seen(string $part, string $subject): bool
    {
        return $this->database->connection->executeStatement('DELETE FROM set_aside WHERE part = ? AND subject = ?', [
            $part,
            $subject,
        ]) === 1;
    }

    /** What was set aside long ago and did not come up again is a matter of the past. */
    public function forgetOld(Instant $now): void
    {
        $this->database->connection->executeStatement('DELETE FROM set_aside WHERE at < ?', [$now->minus(Duration::ofDays(self::KEPT_DAYS))->ms]);
    }

    /** @return list<AsideItem> the newest first */
    public function now(): array
    {
        return array_map(
            static fn(array $row): AsideItem => new AsideItem(
                at: Scalar::int($row['at']),
                firstAt: Scalar::int($row['first_at']),
                part: Scalar::text($row['part']),
                reason: Scalar::text($row['reason']),
                subject: Scalar::text($row['subject']),
                times: Scalar::int($row['times']),
            ),
            $this->database->connection->fetchAllAssociative(
                'SELECT part, subject, first_at, at, times, reason FROM set_aside ORDER BY at DESC LIMIT ' . self::SHOWN,
            ),
        );
    }

    /** @return array<string, true> what of a part is set aside; another copy of the part may have been at work, so it is looked up anew now and then */
    private function known(string $part): array
    {
        $now = $this->clock->now()->ms;
        if (($this->knownAt[$part] ?? 0) < $now - self::LOOKED_UP_EVERY_MS) {
            /** @var list<string> $subjects */
            $subjects = $this->database->connection->fetchFirstColumn('SELECT subject FROM set_aside WHERE part = ?', [$part]);
            $this->known[$part] = array_fill_keys($subjects, true);
            $this->knownAt[$part] = $now;
        }

        return $this->known[$part];
    }

    /** @return array<string, int> part → how many items */
    public function counts(): array
    {
        /** @var array<string, mixed> $counts */
        $counts = $this->database->connection->fetchAllKeyValue('SELECT part, COUNT(*) FROM set_aside GROUP BY part');

        return Scalar::ints($counts);
    }

    private static function fitting(string $text, int $most): string
    {
        return mb_substr(mb_scrub($text), 0, $most);
    }
}
