<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Replication;

/** One of two databases that hold the same, at one moment. */
final readonly class ReplicationEnd
{
    /**
     * @param string|null $position how far it is: `0-1-4711` (domain, server, transaction; several with commas) or `16/B374D848` (a place in a log)
     * @param float|null  $seconds  how far it says it is behind, itself; null where it does not know
     * @param string|null $fault    why it does not follow, or could not be asked, as a sentence without a full stop
     * @param bool        $isOurs   whether that is our own fault
     */
    public function __construct(
        public ?string $position,
        public ?float $seconds = null,
        public ?string $fault = null,
        public bool $isOurs = false,
    ) {
    }

    /**
     * How far another is behind this one: in transactions, or in bytes of a log. Null where their positions cannot be held together.
     *
     * 0-1-4711,1-9-20 and a partner at 0-1-4700,1-9-20: 11. 16/B374D848 and 16/B374D800: 72.
     */
    public function ahead(self $partner): ?float
    {
        if ($this->position === null || $partner->position === null) {
            return null;
        }
        [$ours, $theirs] = [self::byDomain($this->position), self::byDomain($partner->position)];
        if ($ours === null || $theirs === null || isset($ours['log']) !== isset($theirs['log'])) {
            return null;
        }
        $behind = 0.0;
        foreach ($ours as $domain => $at) {
            $behind += max(0.0, $at - ($theirs[$domain] ?? 0.0));
        }

        return $behind;
    }

    /** @return array<string, float>|null domain → place; a log has one domain */
    private static function byDomain(string $position): ?array
    {
        if (preg_match('~^([0-9A-F]{1,8})/([0-9A-F]{1,8})$~Di', $position, $place) === 1) {
            return ['log' => hexdec($place[1]) * 2.0 ** 32 + hexdec($place[2])];
        }
        $domains = [];
        foreach (explode(',', $position) as $one) {
            if (preg_match('~^(\d{1,10})-\d{1,10}-(\d{1,20})$~D', trim($one), $parts) !== 1) {
                return null;
            }
            $domains["transactions {$parts[1]}"] = (float) $parts[2];
        }

        return $domains;
    }
}
