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
        self::MACHINE => ['', '1 where the machine of a target that does not answer answers echoes all the same, 0 where it does not either'],
    ];

    /** Known of a target that is silent alone, which has the series from then on. */
    private const MACHINE = 'olivine_machine_answers';

    private function __construct(private int $page, private bool $hasMachine)
    {
    }

    public static function of(Target $target, SeriesRegister $register, int $atMs, bool $hasMachine = false): self
    {
        $samples = self::samples($hasMachine ? self::METRICS : array_diff_key(self::METRICS, [self::MACHINE => true]));
        $slots = $register->register($target, $samples, $atMs, true);

        return new self($slots[SeriesRegister::identity($samples[0])]->page, $hasMachine);
    }

    /** With a place for what is known of its machine. */
    public function withMachine(Target $target, SeriesRegister $register, int $atMs): self
    {
        return $this->hasMachine ? $this : self::of($target, $register, $atMs, true);
    }

    /** @param bool|null $machine whether the machine answers, where that was looked for; {@see withMachine()} */
    public function row(int $atMs, bool $success, float $seconds, int $readings, int $bytes, ?bool $machine = null): ScrapeRow
    {
        $values = [$success ? 1.0 : 0.0, round($seconds, 4), (float) $readings, (float) $bytes];

        return new ScrapeRow(
            $this->page,
            $atMs,
            ScrapeValues::pack($machine === null ? $values : [...$values, $machine ? 1.0 : 0.0]),
        );
    }

    /**
     * @param array<string, array{string, string}> $metrics
     *
     * @return list<Sample>
     */
    private static function samples(array $metrics): array
    {
        $samples = [];
        foreach ($metrics as $name => [$unit, $help]) {
            $family = new Family($name);
            $family->type = MetricType::Gauge;
            $family->unit = $unit;
            $family->help = $help;
            $samples[] = new Sample($name, LabelSet::none(), 0.0, null, $family);
        }

        return $samples;
    }
}
