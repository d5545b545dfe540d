<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/**
 * Whether the buckets of the histograms of one text are whole: bounds that rise, up to +Inf, counts that do not fall.
 *
 * A text without +Inf, or with bounds that do not rise, is wrong. Counts that fall from one bucket to the next are
 * what a server brings that is asked in the middle of counting; such a text is taken, and that it was so is said.
 */
final class BucketOrder
{
    /** @var array<string, array{bound: float, count: float, line: int}> the last bucket of each histogram */
    private array $last = [];
    /** The first counts that fall, in words. */
    private ?string $fall = null;

    /** @return string|null what was expected instead */
    public function take(string $histogram, float $bound, float $count, int $line): ?string
    {
        $before = $this->last[$histogram] ?? null;
        if ($before !== null && !($bound > $before['bound'])) {
            return sprintf('bounds that rise; %s stands before it', self::word($before['bound']));
        }
        if ($before !== null && $count < $before['count']) {
            $this->fall ??= sprintf(
                'counts fall from %s to %s (line %d)',
                self::word($before['bound']),
                self::word($bound),
                $line,
            );
        }
        $this->last[$histogram] = ['bound' => $bound, 'count' => $count, 'line' => $line];

        return null;
    }

    /**
     * The family is over: nothing more comes of these histograms.
     *
     * @return int|null the line of a last bucket that is not +Inf
     */
    public function end(): ?int
    {
        foreach ($this->last as $bucket) {
            if ($bucket['bound'] !== INF) {
                return $bucket['line'];
            }
        }
        $this->last = [];

        return null;
    }

    public function fall(): ?string
    {
        return $this->fall;
    }

    private static function word(float $bound): string
    {
        return $bound === INF ? 'le="+Inf"' : sprintf('le="%s"', (string) json_encode($bound));
    }
}
