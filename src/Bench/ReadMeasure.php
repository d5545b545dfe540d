<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Layout;
use Olivine\Core\Exposition\TextReader;

/** Text in memory to series and values, against a parse that reads every label anew. */
final class ReadMeasure implements Measure
{
    public function name(): string
    {
        return 'read';
    }

    /** @throws BadExposition where the text is none, naming the line */
    public function run(callable $say): void
    {
        $texts = Scrapes::texts(20);
        $layout =
            Layout::of($texts[0], TextReader::read($texts[0], Form::OpenMetrics)) ??
            throw new \LogicException('The text has a steady shape');
        $steady = Rate::of(static function () use ($layout, $texts): int {
            $lines = 0;
            for ($i = 0; $i < 10; ++$i) {
                foreach ($texts as $text) {
                    $lines += count($layout->values($text) ?? []);
                }
            }

            return $lines;
        });
        $whole = Rate::of(static function () use ($texts): int {
            $lines = 0;
            foreach (array_slice($texts, 0, 4) as $text) {
                $lines += count(TextReader::read($text, Form::OpenMetrics)->samples);
            }

            return $lines;
        });
        $say('read.lines_per_s', $steady, 'lines/s');
        $say('read.baseline_whole_parse', $whole, 'lines/s');
        $say('read.ratio', $steady / $whole, 'x');
    }
}
