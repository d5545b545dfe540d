<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\StoredReadings;
use Olivine\App\Store\StoredRollups;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;

/** How the memory of each long-running part of the demo moved over the last hour, from what Olivine recorded of itself. */
final readonly class MemoryMeasure implements Measure
{
    public function __construct(private RunningInstance $demo)
    {
    }

    public function name(): string
    {
        return 'memory';
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function run(callable $say): void
    {
        $connection = $this->demo->connect();
        $evaluator = new Evaluator(new StoredReadings($connection, new SeriesIndex($connection), new StoredRollups($connection)));
        $now = (int) (microtime(true) * 1000);
        $own = 'process_memory_usage_bytes where target = "olivine"';
        $minutes = $evaluator->range(Parser::parse("count({$own}, 1h) / 4"), $now, $now, 1)->lines;
        $last = [];
        foreach ($evaluator->range(Parser::parse("last({$own}, 1h)"), $now, $now, 1)->lines as $line) {
            $last[$line->labels->get('part')] = (float) $line->values[0];
        }
        foreach ($evaluator->range(Parser::parse("slope({$own}, 1h) * 3600"), $now, $now, 1)->lines as $line) {
            $part = $line->labels->get('part');
            $say(
                "memory.slope.{$part}",
                (float) $line->values[0] / 1024,
                sprintf('KiB an hour at %.0f MiB', ($last[$part] ?? 0.0) / 1_048_576),
            );
        }
        $say('memory.minutes_looked_at', $minutes === [] ? 0.0 : (float) $minutes[0]->values[0], 'min');
    }
}
