<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Psr\Cache\CacheItemPoolInterface;

/**
 * Answers for whoever asks the same again soon, kept in a fixed number of places of each kind: a new question takes the
 * place of an old one of its kind, so however much is asked, no more room is taken than these. A long answer is not kept.
 */
final readonly class FewAnswers
{
    public const PLACES = 64;
    public const LONGEST_BYTES = 100_000;

    public function __construct(private CacheItemPoolInterface $cache, private Clock $clock = new Clock())
    {
    }

    /**
     * @param string             $kind   what lasts long must not lose its place to what is soon old
     * @param callable(): string $answer
     */
    public function of(string $kind, string $question, int $forMs, callable $answer): string
    {
        $now = $this->clock->now()->ms;
        $item = $this->cache->getItem("few.{$kind}." . crc32($question) % self::PLACES);
        $kept = $item->get();
        if (is_array($kept) && $kept['question'] === $question && $kept['at'] > $now - $forMs) {
            return Scalar::text($kept['answer']);
        }
        $fresh = $answer();
        if (strlen($question) + strlen($fresh) <= self::LONGEST_BYTES) {
            $this->cache->save(
                $item->set(['question' => $question, 'at' => $now, 'answer' => $fresh])->expiresAfter(intdiv($forMs, 1000)),
            );
        }

        return $fresh;
    }
}
