<?php

declare(strict_types=1);

namespace Olivine\App\Formula;

use Olivine\App\Platform\CalledFrom;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Limits;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Exposition\TextReadings;
use Olivine\Core\Formula\ByName;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Unit;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\Tree;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Formulas without a server: their tree, or their values over a file of readings. Prints JSON; 0 is well, 1 a fault in the
 * formula or the data, 2 a wrong call.
 */
#[AsCommand('olivine:formula', 'Checks a formula, or works it out over a file of readings')]
final class FormulaCommand extends Command
{
    private const MOST_INSTANTS = 100_000;

    protected function configure(): void
    {
        $this->addArgument('action', InputArgument::REQUIRED, 'check or eval')
            ->addArgument('text', InputArgument::REQUIRED, 'The formula')
            ->addOption('data', null, InputOption::VALUE_REQUIRED, 'OpenMetrics text with timestamps; - is standard input')
            ->addOption('at', null, InputOption::VALUE_REQUIRED, 'Instant: seconds since 1970, or 2026-11-23T03:12:00Z')
            ->addOption('from', null, InputOption::VALUE_REQUIRED, 'First instant of a range')
            ->addOption('to', null, InputOption::VALUE_REQUIRED, 'End of the range')
            ->addOption('step', null, InputOption::VALUE_REQUIRED, 'Step of the range: seconds, or 5m')
            ->addOption(
                'interval',
                null,
                InputOption::VALUE_REQUIRED,
                'How often the series are read: seconds, or 15s; else the median step of each series',
            );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $action = $input->getArgument('action');
        $text = Scalar::text($input->getArgument('text'));
        try {
            [$code, $result] = match ($action) {
                'check' => $this->check($text, $input),
                'eval' => $this->work($text, $input),
                default => throw new WrongCall('There is no action ' . Scalar::text($action) . '; there are check and eval'),
            };
        } catch (FormulaError $error) {
            [$code, $result] = [
                1,
                [
                    'ok' => false,
                    'error' => [
                        'offset' => $error->place->offset,
                        'length' => $error->place->length,
                        'message' => $error->getMessage(),
                        'suggestion' => $error->suggestion,
                    ],
                ],
            ];
        } catch (BadExposition $error) {
            [$code, $result] = [
                1,
                [
                    'ok' => false,
                    'error' => ['line' => $error->lineNumber, 'column' => $error->column, 'message' => $error->getMessage()],
                ],
            ];
        } catch (TooMuchToRead $error) {
            [$code, $result] = [1, ['ok' => false, 'error' => ['message' => $error->getMessage()]]];
        } catch (WrongCall $error) {
            [$code, $result] = [2, ['ok' => false, 'error' => ['message' => $error->getMessage()]]];
        }
        $output->writeln(
            json_encode(
                $result,
                JSON_THROW_ON_ERROR |
                    JSON_PRETTY_PRINT |
                    JSON_UNESCAPED_SLASHES |
                    JSON_UNESCAPED_UNICODE |
                    JSON_PRESERVE_ZERO_FRACTION |
                    JSON_INVALID_UTF8_SUBSTITUTE,
            ),
            OutputInterface::OUTPUT_RAW,
        );

        return $code;
    }

    /**
     * @return array{int, array<string, mixed>}
     *
     * @throws FormulaError
     * @throws WrongCall
     * @throws BadExposition
     */
    private function check(string $text, InputInterface $input): array
    {
        $tree = Parser::parse($text);
        $hasReadings = $input->getOption('data') !== null;
        $unit = (new Checker($hasReadings ? $this->readings($input) : new ByName()))->unitOf($tree);

        return [
            0,
            ['ok' => true, 'formula' => Printer::print($tree), 'tree' => Tree::data($tree)] +
            ($hasReadings ? ['unit' => $unit] : []),
        ];
    }

    /**
     * @return array{int, array<string, mixed>}
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     * @throws WrongCall
     * @throws BadExposition
     */
    private function work(string $text, InputInterface $input): array
    {
        $tree = Parser::parse($text);
        $readings = $this->readings($input);
        $unit = (new Checker($readings))->unitOf($tree);
        $evaluator = new Evaluator($readings);
        $head = ['ok' => true, 'formula' => Printer::print($tree), 'unit' => $unit];
        if ($input->getOption('at') !== null) {
            $at = GivenTime::instant('at', $input)->ms;
            $lines = $evaluator->range($tree, $at, $at, 1)->lines;

            return [
                0,
                $head + [
                    'at' => $at / 1000,
                    'series' => array_map(
                        static fn(Line $line): array => [
                            'labels' => (object) $line->labels->labels,
                            'value' => self::value($line->values[0]),
                        ],
                        $lines,
                    ),
                ],
            ];
        }
        $from = GivenTime::instant('from', $input)->ms;
        $to = GivenTime::instant('to', $input)->ms;
        $step = self::duration(
            'step',
            Scalar::text($input->getOption('step') ?? throw new WrongCall('Say --at, or --from, --to and --step')),
        );
        if ($to < $from) {
            throw new WrongCall('--to lies before --from');
        }
        if (($to - $from) / $step > self::MOST_INSTANTS) {
            throw new WrongCall(sprintf('That would be more than %d instants; choose a longer --step', self::MOST_INSTANTS));
        }

        return [
            0,
            $head + [
                'from' => $from / 1000,
                'to' => $to / 1000,
                'step' => $step / 1000,
                'series' => array_map(
                    static fn(Line $line): array => [
                        'labels' => (object) $line->labels->labels,
                        'values' => array_map(self::value(...), $line->values),
                    ],
                    $evaluator->range($tree, $from, $to, $step)->lines,
                ),
            ],
        ];
    }

    /**
     * @throws WrongCall
     * @throws BadExposition
     */
    private function readings(InputInterface $input): TextReadings
    {
        $file = $input->getOption('data') ?? throw new WrongCall('Say where the readings are: --data FILE');
        $text = @file_get_contents(CalledFrom::path(Scalar::text($file)));
        if ($text === false) {
            throw new WrongCall(Scalar::text($file) . ' cannot be read');
        }
        $interval = $input->getOption('interval');

        return new TextReadings(
            TextReader::read($text, Form::ofText($text), Limits::forFiles()),
            $interval === null ? null : self::duration('interval', Scalar::text($interval)),
        );
    }

    /** @throws WrongCall */
    private static function duration(string $name, string $text): int
    {
        if (is_numeric($text) && (float) $text > 0 && (float) $text < 1e9) {
            return max(1, (int) round((float) $text * 1000));
        }
        try {
            $number = Parser::parse($text);
        } catch (FormulaError) {
            $number = null;
        }

        return $number instanceof Number && $number->unit === Unit::Seconds && $number->value > 0
            ? max(1, (int) round($number->value * 1000))
            : throw new WrongCall("--{$name} must be seconds or a duration such as 5m");
    }

    /** JSON has no NaN and no infinity: they are written as the exposition text writes them. */
    private static function value(?float $value): float|string|null
    {
        return match (true) {
            $value === null, is_finite($value) => $value,
            is_nan($value) => 'NaN',
            default => $value > 0 ? '+Inf' : '-Inf',
        };
    }
}
