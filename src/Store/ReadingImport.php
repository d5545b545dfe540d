<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\ExplodedLabel;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Problem;
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
    private const MOST_NEW_SERIES = 50_000;
    private const MOST_COLUMNS = 60;
    private const LONGEST_LABEL = 2_000;
    private const LONGEST_ROW = 256_000;
    private const AHEAD_MS = 600_000;

    /** @var array<string, array<string, Slot>> metric → labels → where its readings go */
    private array $slots = [];
    /** @var list<array{Sample, int}> read, not yet written, with their times */
    private array $batch = [];
    private ImportReport $report;
    private int $oldestMs = 0;
    private int $newestMs = 0;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly SeriesRegister $register,
        private readonly SeriesIndex $index,
        private readonly ScrapeWriter $writer,
        private readonly Retention $retention,
        private readonly Database $database,
        private readonly LateReadings $late,
        private readonly SealedReadings $sealed,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->report = new ImportReport();
    }

    /**
     * Series from files belong to a target that is never asked; a new one is kept once something is taken into it.
     *
     * @throws Problem naming what of it cannot be taken, and the line
     */
    public function targetNamed(string $name): Target
    {
        $name = trim($name);
        $fault = (new Text(Target::NAME_LENGTH, 1))->fault($name);
        if ($fault !== null) {
            throw Problem::field('target', str_replace('{field}', 'target', $fault));
        }
        if (preg_match(Target::NAME, $name) !== 1) {
            throw Problem::field(
                'target',
                'target must begin with a letter or digit; then letters, digits, spaces and . _ : / - may follow',
            );
        }
        $target = $this->entities->getRepository(Target::class)->findOneBy(['name' => $name]);
        if ($target === null) {
            $target = new Target($name, '', $this->clock->now());
            $target->paused = true;
        }

        return $target;
    }

    /** Only now that something is put into it: a file of which nothing is taken leaves nothing behind. */
    private function begin(Target $target): void
    {
        if ($target->id === null || $target->removedAt !== null) {
            // One that was removed comes back with what is put into it.
            $target->removedAt = null;
            $this->entities->persist($target);
            $this->entities->flush();
        }
    }

    /**
     * @param resource                     $file
     * @param callable(ImportReport): void $progress called after each batch
     *
     * @throws BadExposition where the text is none, naming the line
     */
    public function take($file, ImportForm $form, Target $target, callable $progress): ImportReport
    {
        $this->report = new ImportReport();
        $this->slots = [];
        $this->batch = [];
        $now = $this->clock->now()->ms;
        $this->newestMs = $now + self::AHEAD_MS;
        $this->oldestMs = $now - $this->retention->days()[RetentionTier::Readings->value] * Span::DAY_MS;
        $form === ImportForm::Csv ? $this->takeCsv($file, $target, $progress) : $this->takeOpenMetrics($file, $target, $progress);
        $this->write($target, $progress);

        return $this->report;
    }

    /**
     * Read twice: a fault anywhere refuses the whole text before anything of it is taken.
     *
     * @param resource                     $file
     * @param callable(ImportReport): void $progress
     *
     * @throws BadExposition
     */
    private function takeOpenMetrics($file, Target $target, callable $progress): void
    {
        $text = (string) stream_get_contents($file);
        try {
            TextReader::each($text, Form::OpenMetrics, Limits::forImports(), static function (): void {
            });
        } catch (BadExposition $error) {
            $this->report->refuse($error->getMessage() . '; nothing of the file was taken');

            return;
        }
        TextReader::each($text, Form::OpenMetrics, Limits::forImports(), function (Sample $sample) use (
            $target,
            $progress,
        ): void {
            if ($sample->atMs === null) {
                $this->report->refuse("{$sample->name} has no timestamp");
            } elseif (SeriesRegister::keeps($sample)) {
                $this->add($target, $sample, $sample->atMs, $sample->name, $progress);
            }
        });
    }

    /**
     * @param resource                     $file
     * @param callable(ImportReport): void $progress
     */
    private function takeCsv($file, Target $target, callable $progress): void
    {
        $head = fgetcsv($file, self::LONGEST_ROW, ',', '"', '');
        $head = is_array($head) ? array_map(static fn(?string $name): string => trim((string) $name, "\u{FEFF} "), $head) : [];
        $missing = array_diff(ReadingExport::COLUMNS, $head);
        $fault = match (true) {
            $missing !== [] => 'must name the columns time, metric and value; ' . implode(' and ', $missing) . ' is missing',
            count($head) > self::MOST_COLUMNS => sprintf('names %d columns, more than %d', count($head), self::MOST_COLUMNS),
            count(array_unique($head)) < count($head),
            in_array('', $head, true)
                => 'must name each column, and each by another name',
            default => null,
        };
        if ($fault !== null) {
            $this->report->refuse("The first row {$fault}; nothing of the file was taken");

            return;
        }
        $families = [];
        for ($line = 2; ($row = fgetcsv($file, self::LONGEST_ROW, ',', '"', '')) !== false; ++$line) {
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
            $labels = [];
            foreach (array_diff_key($fields, array_flip(ReadingExport::COLUMNS)) as $column => $text) {
                $labels[ReadingExport::label((string) $column)] = CsvCell::text($text);
            }
            $fault = match (true) {
                $at === null => 'its time is neither RFC 3339 nor milliseconds since 1970: ' . mb_strcut($fields['time'], 0, 60),
                $value === null => 'its value is no number: ' . mb_strcut($fields['value'], 0, 60),
                preg_match('~^[a-zA-Z_:][a-zA-Z0-9_:]{0,299}$~D', $fields['metric']) !== 1 => 'its metric is no metric name',
                !mb_check_encoding(implode('', $labels), 'UTF-8') => 'it is not valid UTF-8',
                max([0, ...array_map(strlen(...), array_values($labels))]) > self::LONGEST_LABEL => sprintf(
                    'a label is longer than %d bytes',
                    self::LONGEST_LABEL,
                ),
                default => null,
            };
            if ($fault !== null || $at === null || $value === null) {
                $this->report->refuse(mb_scrub("Row {$line}: {$fault}"));
                continue;
            }
            $families[$fields['metric']] ??= new Family($fields['metric']);
            $this->add(
                $target,
                new Sample($fields['metric'], LabelSet::of($labels), $value, $at, $families[$fields['metric']]),
                $at,
                "Row {$line}",
                $progress,
            );
        }
    }

    /** @param callable(ImportReport): void $progress */
    private function add(Target $target, Sample $sample, int $atMs, string $what, callable $progress): void
    {
        if ($atMs < $this->oldestMs) {
            $this->report->refuse("{$what} is older than readings are kept, so it would go at once; Setup says for how long");
        } elseif ($atMs > $this->newestMs) {
            $this->report->refuse("{$what} lies more than ten minutes ahead of now");
        } else {
            $this->batch[] = [$sample, $atMs];
        }
        if (count($this->batch) >= self::READINGS_A_BATCH) {
            $this->write($target, $progress);
        }
    }

    /** @param callable(ImportReport): void $progress */
    private function write(Target $target, callable $progress): void
    {
        if ($this->batch === []) {
            return;
        }
        $this->begin($target);
        $this->enrol($target);
        $values = [];
        foreach ($this->batch as [$sample, $at]) {
            $slot = $this->slots[$sample->name][$sample->labels->key()] ?? null;
            if ($slot !== null) {
                $values[$slot->page][$at][$slot->slot] = $sample->value;
            }
        }
        $rows = [];
        $silent = ScrapeValues::silent();
        foreach ($values as $page => $times) {
            foreach ($times as $at => $slots) {
                $row = array_fill(0, max(0, ...array_keys($slots)) + 1, $silent);
                $rows[] = new ScrapeRow($page, $at, ScrapeValues::pack(array_values(array_replace($row, $slots))));
            }
        }
        $this->keep($rows);
        $this->batch = [];
        $progress($this->report);
    }

    /**
     * What rules have looked at already was not there when they did.
     *
     * @param list<ScrapeRow> $rows
     */
    private function keep(array $rows): void
    {
        $this->database->transaction(function () use ($rows): void {
            $news = $this->sealed->unknown($this->writer->merge($rows));
            $this->late->keep($news, $this->clock->now()->ms);
            $taken = ScrapeWriter::count($news);
            $this->report->readings += $taken;
            $this->report->already += ScrapeWriter::count($rows) - $taken;
        });
    }

    /** Finds, or makes, the series of the batch, the new ones in one go. */
    private function enrol(Target $target): void
    {
        $new = [];
        $refused = [];
        foreach ($this->batch as [$sample]) {
            $this->slots[$sample->name] ??= $this->known($sample->name);
            $key = $sample->labels->key();
            if (isset($this->slots[$sample->name][$key])) {
                continue;
            }
            // What was taken under this target before has its labels laid under its own.
            $laid = LabelSet::of($sample->labels->labels + $target->labels + ['target' => $target->name])->key();
            if (isset($this->slots[$sample->name][$laid])) {
                $this->slots[$sample->name][$key] = $this->slots[$sample->name][$laid];
            } elseif ($this->report->newSeries + count($new) < self::MOST_NEW_SERIES) {
                $new["{$sample->name} {$key}"] = $sample;
            } else {
                $refused[] = $sample;
            }
        }
        if ($refused !== []) {
            $this->report->refuse(
                sprintf(
                    'One file may bring %s new series; %s',
                    number_format(self::MOST_NEW_SERIES),
                    ExplodedLabel::remedy($refused),
                ),
                count($refused),
            );
        }
        if ($new === []) {
            return;
        }
        $slots = $this->register->register($target, array_values($new), $this->batch[0][1], bringsItsLabels: true);
        foreach ($new as $sample) {
            $this->slots[$sample->name][$sample->labels->key()] = $slots[SeriesRegister::identity($sample)];
        }
        $this->report->newSeries += count($new);
    }

    /** @return array<string, Slot> labels → slot of every series of the metric */
    private function known(string $metric): array
    {
        $slots = [];
        foreach ($this->index->ofMetric($metric) as $series) {
            $slots[$series->labels->key()] ??= new Slot($series->id, $series->page, $series->slot);
        }

        return $slots;
    }

    private static function time(string $text): ?int
    {
        if (preg_match('~^\d{9,14}$~D', $text) === 1) {
            return strlen($text) <= 11 ? (int) $text * 1000 : (int) $text;
        }
        $time =
            preg_match('~^\d{4}-\d\d-\d\d[T ]\d\d:\d\d~', $text) === 1
                ? date_create_immutable($text, new \DateTimeZone('UTC'))
                : false;

        return $time === false ? null : (int) $time->format('Uv');
    }
}
