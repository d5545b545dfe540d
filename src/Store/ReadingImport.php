<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Clock;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Family;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Limits;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\ScrapeValues;

/**
 * Readings from a file into the store. Those of a series that is known already, by metric and labels, go to that
 * series; others become series of the target that is named. What is there already stays, so a file can be taken twice.
 */
final class ReadingImport
{
    private const READINGS_A_BATCH = 20_000;
    private const FIXED = ['time', 'metric', 'value'];

    /** @var array<string, array<string, Slot>> metric → labels → where its readings go */
    private array $slots = [];
    /** @var array<int, array<int, array<int, float>>> page → time → slot → value */
    private array $batch = [];
    private int $inBatch = 0;
    private ImportReport $report;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly SeriesRegister $register,
        private readonly SeriesIndex $index,
        private readonly ScrapeWriter $writer,
    ) {
        $this->report = new ImportReport();
    }

    /** Series from files belong to a target that is never asked. */
    public function targetNamed(string $name): Target
    {
        $target = $this->entities->getRepository(Target::class)->findOneBy(['name' => $name]);
        if ($target === null) {
            $target = new Target($name, '', Clock::nowMs());
            $target->paused = true;
            $this->entities->persist($target);
            $this->entities->flush();
        }

        return $target;
    }

    /**
     * @param resource                     $file
     * @param callable(ImportReport): void $progress called after each batch
     */
    public function take($file, ImportForm $form, Target $target, callable $progress): ImportReport
    {
        $this->report = new ImportReport();
        $this->slots = [];
        $form === ImportForm::Csv ? $this->takeCsv($file, $target, $progress) : $this->takeOpenMetrics($file, $target, $progress);
        $this->write($progress);

        return $this->report;
    }

    /**
     * @param resource                     $file
     * @param callable(ImportReport): void $progress
     */
    private function takeOpenMetrics($file, Target $target, callable $progress): void
    {
        try {
            $read = TextReader::read((string) stream_get_contents($file), Form::OpenMetrics, Limits::forFiles());
        } catch (BadExposition $error) {
            $this->report->refuse($error->getMessage() . '; nothing of the file was taken');

            return;
        }
        foreach ($read->samples as $sample) {
            if ($sample->atMs === null) {
                $this->report->refuse("{$sample->name} has no timestamp");
            } elseif (SeriesRegister::keeps($sample)) {
                $this->add($target, $sample, $sample->atMs, $progress);
            }
        }
    }

    /**
     * @param resource                     $file
     * @param callable(ImportReport): void $progress
     */
    private function takeCsv($file, Target $target, callable $progress): void
    {
        $head = fgetcsv($file, null, ',', '"', '');
        $head = is_array($head) ? array_map(static fn(?string $name): string => trim((string) $name, "\u{FEFF} "), $head) : [];
        $missing = array_diff(self::FIXED, $head);
        if ($missing !== []) {
            $this->report->refuse('The first row must name the columns time, metric and value; ' . implode(' and ', $missing) . ' is missing; nothing of the file was taken');

            return;
        }
        $families = [];
        for ($line = 2; ($row = fgetcsv($file, null, ',', '"', '')) !== false; ++$line) {
            if ($row === [null]) {
                continue;
            }
            if (count($row) !== count($head)) {
                $this->report->refuse(sprintf('Row %d has %d fields, the first row has %d', $line, count($row), count($head)));
                continue;
            }
            $fields = array_combine($head, array_map(strval(...), $row));
            $at = self::time($fields['time']);
            $value = TextReader::number($fields['value']);
            $labels = array_diff_key($fields, array_flip(self::FIXED));
            $fault = match (true) {
                $at === null => "its time is neither RFC 3339 nor milliseconds since 1970: {$fields['time']}",
                $value === null => "its value is no number: {$fields['value']}",
                preg_match('~^[a-zA-Z_:][a-zA-Z0-9_:]{0,299}$~D', $fields['metric']) !== 1 => 'its metric is no metric name',
                !mb_check_encoding(implode('', $labels), 'UTF-8') => 'it is not valid UTF-8',
                default => null,
            };
            if ($fault !== null || $at === null || $value === null) {
                $this->report->refuse(mb_scrub("Row {$line}: {$fault}"));
                continue;
            }
            $families[$fields['metric']] ??= new Family($fields['metric']);
            $this->add($target, new Sample($fields['metric'], LabelSet::of($labels), $value, $at, $families[$fields['metric']]), $at, $progress);
        }
    }

    /** @param callable(ImportReport): void $progress */
    private function add(Target $target, Sample $sample, int $atMs, callable $progress): void
    {
        ++$this->report->readings;
        $slot = $this->slot($target, $sample, $atMs);
        $this->batch[$slot->page][$atMs][$slot->slot] = $sample->value;
        if (++$this->inBatch >= self::READINGS_A_BATCH) {
            $this->write($progress);
        }
    }

    private function slot(Target $target, Sample $sample, int $atMs): Slot
    {
        if (!isset($this->slots[$sample->name])) {
            $this->slots[$sample->name] = [];
            foreach ($this->index->ofMetric($sample->name) as $series) {
                $this->slots[$sample->name][$series->labels->key()] ??= new Slot($series->id, $series->page, $series->slot);
            }
        }
        $key = LabelSet::of($sample->labels->labels + $target->labels + ['target' => $target->name])->key();
        $slot = $this->slots[$sample->name][$sample->labels->key()] ?? $this->slots[$sample->name][$key] ?? null;
        if ($slot === null) {
            $slot = $this->register->register($target, [$sample], $atMs, bringsItsLabels: true)[SeriesRegister::identity($sample)];
            $this->slots[$sample->name][$key] = $slot;
            ++$this->report->newSeries;
        }

        return $slot;
    }

    /** @param callable(ImportReport): void $progress */
    private function write(callable $progress): void
    {
        $rows = [];
        $silent = ScrapeValues::silent();
        foreach ($this->batch as $page => $times) {
            foreach ($times as $at => $slots) {
                $row = array_fill(0, max(0, ...array_keys($slots)) + 1, $silent);
                $rows[] = new ScrapeRow($page, $at, ScrapeValues::pack(array_values(array_replace($row, $slots))));
            }
        }
        $this->writer->merge($rows);
        $this->batch = [];
        $this->inBatch = 0;
        $progress($this->report);
    }

    private static function time(string $text): ?int
    {
        if (preg_match('~^\d{9,14}$~D', $text) === 1) {
            return strlen($text) <= 11 ? (int) $text * 1000 : (int) $text;
        }
        $time = preg_match('~^\d{4}-\d\d-\d\d[T ]\d\d:\d\d~', $text) === 1 ? date_create_immutable($text, new \DateTimeZone('UTC')) : false;

        return $time === false ? null : (int) $time->format('Uv');
    }
}
