<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

/** Exposition texts to measure with. */
final class Scrapes
{
    public const SERIES = 2_000;

    /** @return list<string> scrapes of 2,000 series with changing values */
    public static function texts(int $count): array
    {
        mt_srand(1);
        $texts = [];
        for ($i = 0; $i < $count; ++$i) {
            $text = "# TYPE http_requests counter\n# HELP http_requests Requests\n";
            for ($series = 0; $series < self::SERIES; ++$series) {
                $text .= sprintf(
                    "http_requests_total{host=\"web-%d\",route=\"/r%d\",status=\"%d\"} %s\n",
                    $series % 20,
                    intdiv($series, 20) % 20,
                    200 + intdiv($series, 400),
                    (string) (mt_rand(0, 10_000_000) / 100),
                );
            }
            $texts[] = $text . "# EOF\n";
        }

        return $texts;
    }
}
