<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * The proof that words between us and another program are its or ours: HMAC-SHA-256 under the secret of the channel, over the time
 * in seconds, a full stop and the body. What is old is no proof any more.
 */
final readonly class Signature
{
    public const TIME = 'Olivine-Time';
    public const SIGNATURE = 'Olivine-Signature';
    private const OLDEST_SECONDS = 300;

    /** @return array<string, string> */
    public static function headers(#[\SensitiveParameter] string $secret, string $body, Instant $at): array
    {
        $time = (string) intdiv($at->ms, 1000);

        return [self::TIME => $time, self::SIGNATURE => self::of($secret, $time, $body)];
    }

    /** Whether it is signed so, and not long ago. */
    public static function holds(#[\SensitiveParameter] string $secret, string $time, string $signature, string $body, Instant $now): bool
    {
        $isFresh = preg_match('~^\d{1,12}$~D', $time) === 1
            && abs($now->ms - 1000 * (int) $time) <= Duration::ofSeconds(self::OLDEST_SECONDS)->ms;

        return $secret !== '' && $isFresh && hash_equals(self::of($secret, $time, $body), $signature);
    }

    private static function of(#[\SensitiveParameter] string $secret, string $time, string $body): string
    {
        return 'sha256=' . hash_hmac('sha256', "{$time}.{$body}", $secret);
    }
}
