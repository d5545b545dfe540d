<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\SeriesRegister;
use Olivine\Core\Exposition\Family;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\ScrapeValues;

/** What Olivine notes of each scrape itself, failed ones too, as series on a page of the target's own. */
final readonly class OwnReadings
{
    /** @var array<string, array{string, string}> name → unit, help */
    public const METRICS = [
        'olivine_scrape_success' => ['', '1 where the scrape brought readings, 0 where it failed'],
        'olivine_scrape_took_seconds' => ['seconds', 'From the request to the last byte'],
        'olivine_scrape_readings' => ['', 'Readings that the scrape brought'],
        'olivine_scrape_body_bytes' => ['bytes', 'Size of the text, unpacked'],
    ];

    private function __construct(private int $page)
    {
    }

    public static function of(Target $target, SeriesRegister $register, int $atMs): self
    {
        $samples = self::samples();
        $slots = $register->register($target, $samples, $atMs, true);

        return new self($slots[SeriesRegister::identity($samples[0])]->page);
    }

    public function row(int $atMs, bool $success, float $seconds, int $readings, int $bytes): ScrapeRow
    {
        return new ScrapeRow(
            $this->page,
            $atMs,
            ScrapeValues::pack([$success ? 1.0 : 0.0, round($seconds, 4), (float) $readings, (float) $bytes]),
        );
    }

    /** @return non-empty-list<Sample> */
    private static function samples(): array
    {
        $samples = [];
        foreach (self::METRICS as $name => [$unit, $help]) {
            $family = new Family($name);
            $family->type = MetricType::Gauge;
            $family->unit = $unit;
            $family->help = $help;
            $samples[] = new Sample($name, LabelSet::none(), 0.0, null, $family);
        }

        return $samples;
    }
}
