<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Answer\FoundFamily;
use Olivine\App\Collect\Answer\FoundReading;
use Olivine\App\Collect\Answer\TargetTest;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\App\Store\StoreCost;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Exposition;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Formula\MetricUnit;

/** Asks an address before it is saved, and tells what it brings, what that takes, and what is worth a look. */
final readonly class TargetTester
{
    private const MOST_FAMILIES = 400;
    private const READINGS_A_FAMILY = 3;
    private const LONGEST_HELP = 300;
    private const MOST_VALUES = 500;
    private const CLOCK_OFF_MS = 60_000;

    public function __construct(
        private Credentials $credentials,
        private Reach $reach,
        private TargetLimits $limits,
        private StoreCost $cost,
        private Clock $clock = new Clock(),
    ) {
    }

    public function test(Target $target): TargetTest
    {
        $limits = $this->limits->limits();
        $scrape = (new Scraper($this->credentials, $this->reach, $limits))->once($target);
        if ($scrape->fault !== null) {
            return new TargetTest(message: $scrape->fault, ok: false);
        }
        try {
            $read = TextReader::read($scrape->body, $scrape->form, $limits);
        } catch (BadExposition $error) {
            return new TargetTest(message: $error->place(), ok: false, form: $scrape->form->value, seconds: $scrape->seconds());
        }
        $series = count($read->samples);
        $readingsADay = (int) (($series * 86_400) / $target->intervalSeconds);

        return new TargetTest(
            message: $series === 0 ? 'The answer holds no readings; check that the URL is that of the metrics' : '',
            ok: $series > 0,
            bytes: strlen($scrape->body),
            bytesADay: (int) ($readingsADay * $this->cost->bytesPerReading()),
            families: count($read->families),
            form: $scrape->form->value,
            found: self::found($read),
            hints: $this->hints($read, $target, $scrape->seconds()),
            readingsADay: $readingsADay,
            seconds: $scrape->seconds(),
            series: $series,
        );
    }

    /** @return list<FoundFamily> what the answer holds, family by family, so that one sees what is missing */
    private static function found(Exposition $read): array
    {
        $samples = [];
        foreach ($read->samples as $sample) {
            $samples[$sample->family->name][] = $sample;
        }
        $found = [];
        foreach (array_slice($read->families, 0, self::MOST_FAMILIES) as $family) {
            $of = $samples[$family->name] ?? [];
            $found[] = new FoundFamily(
                name: $family->name,
                help: mb_substr($family->help ?? '', 0, self::LONGEST_HELP),
                readings: array_map(self::reading(...), array_slice($of, 0, self::READINGS_A_FAMILY)),
                series: count($of),
                type: $family->type->value ?? 'unknown',
                unit: MetricUnit::ofName($family->name, $family->unit ?? ''),
            );
        }

        return $found;
    }

    private static function reading(Sample $sample): FoundReading
    {
        $value = is_finite($sample->value) ? $sample->value : (string) $sample->value;

        return new FoundReading(labels: $sample->labels, value: (string) json_encode($value));
    }

    /** @return list<string> what is not wrong, but worth a look before it is saved */
    private function hints(Exposition $read, Target $target, float $seconds): array
    {
        $hints = [];
        if ($seconds > 0.5 * $target->intervalSeconds) {
            $hints[] = sprintf(
                'It takes %.1f s to answer, more than half of its interval of %d s; choose a longer one',
                $seconds,
                $target->intervalSeconds,
            );
        }
        $nameless = count(array_filter($read->families, static fn($family): bool => $family->type === null));
        if ($nameless > 0) {
            $hints[] = "{$nameless} families say no type; they are taken as they come";
        }
        $values = [];
        foreach ($read->samples as $sample) {
            foreach ($sample->labels->labels as $name => $value) {
                $values[$name][$value] = true;
            }
            if ($sample->atMs !== null && abs($sample->atMs - $this->clock->now()->ms) > self::CLOCK_OFF_MS) {
                $hints['clock'] = 'Some readings carry times more than a minute from now; a clock may be off';
            }
        }
        foreach ($values as $name => $different) {
            if (count($different) > self::MOST_VALUES) {
                $count = number_format(count($different));
                $hints[] = "The label {$name} has {$count} different values; each makes series of its own";
            }
        }

        return array_values($hints);
    }
}
