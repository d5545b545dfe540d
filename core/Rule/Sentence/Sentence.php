<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Sentence;

/**
 * What makes a rule raise and clear, in the words that its file and its page say it with:
 *
 *     raise:    minor: above 300 for 5m
 *               major: above 400
 *     clear:    at or below 250 for 2m
 *     unseen:   minor after 10m, lost after 3d
 *     together: in 3 or more per site
 */
final readonly class Sentence
{
    /**
     * @param array<string, string> $raise    severity → words
     * @param string                $clear    empty: at the limit, for as long as it takes to raise
     * @param string                $unseen   empty: tells nobody after 10 min, lost after 3 d
     * @param string                $together empty: each label set is an alert of its own
     */
    public function __construct(
        public array $raise,
        public string $clear = '',
        public string $unseen = '',
        public string $together = '',
    ) {
    }
}
