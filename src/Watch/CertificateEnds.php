<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Olivine\App\Collect\Answer\CertificateRow;
use Olivine\App\Collect\CertificateList;
use Olivine\App\Platform\SlowAnswer;
use Olivine\App\Watch\Answer\Forecast;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** The certificates that end within two days, for what lies ahead on Watch. */
final readonly class CertificateEnds implements SlowAnswer
{
    public const NAME = 'certificate ends';
    private const RENEW_EVERY_MS = 300_000;
    private const MOST = 20;

    public function __construct(private CertificateList $certificates)
    {
    }

    public function name(): string
    {
        return self::NAME;
    }

    public function renewEveryMs(): int
    {
        return self::RENEW_EVERY_MS;
    }

    /**
     * @return list<Forecast>
     *
     * @throws TooMuchToRead
     */
    public function work(Instant $now): array
    {
        $far = $now->plus(Duration::ofDays(2));
        $soon = array_filter(
            $this->certificates->all()->certificates,
            static fn(CertificateRow $one): bool => $one->endsAt->isAfter($now) && $one->endsAt->isBefore($far),
        );

        return array_map(
            self::forecast(...),
            array_slice(array_values($soon), 0, self::MOST),
        );
    }

    private static function forecast(CertificateRow $one): Forecast
    {
        return new Forecast($one->endsAt, 0, $one->service, Severity::Major, "the certificate of {$one->subject} ends");
    }
}
