<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FilesGiven;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Formula\GivenTime;
use Olivine\App\Formula\WrongCall;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Phase;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** Runs the rule tests of some files, and says what differs: 0 where all is as expected, 1 where not, 2 for a wrong call. */
#[AsCommand('olivine:rules:test', 'Runs the rule tests of some files')]
final class RulesTestCommand extends Command
{
    /** Steps on the way, of which nobody is told: they count where a test names them. */
    private const PASSING = [Phase::Building, Phase::Easing, Phase::Held];

    public function __construct(private readonly RulesOfFiles $rules)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('files', InputArgument::IS_ARRAY | InputArgument::REQUIRED, 'Files, or folders with all that is YAML in them')
            ->addOption('zone', null, InputOption::VALUE_REQUIRED, 'Whose clocks are meant by the same hours of other days', 'UTC');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $files = FilesGiven::read(array_map(Scalar::text(...), array_values((array) $input->getArgument('files'))), Kinds::ALL);
            $tests = array_merge(...array_map(RuleTestReader::read(...), $files), ...[[]]);
            $read = $this->rules->whole($files);
            if ($tests === []) {
                throw new WrongCall('There is no test in these files; a test stands under rule-tests:');
            }
            $failed = 0;
            foreach ($tests as $test) {
                $differences = self::differences($test, $read, GivenTime::zone($input));
                $failed += $differences === [] ? 0 : 1;
                $isMet = $differences === [] ? 'as expected' : 'not as expected';
                $lines = ["{$test->file}:{$test->line}: {$test->name}: {$isMet}", ...$differences];
                $output->writeln(implode("\n", $lines), OutputInterface::OUTPUT_RAW);
            }
        } catch (WrongCall|NoSuchFile $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::INVALID;
        } catch (BadFiles|BadRule|FormulaError|TooMuchToRead $error) {
            $output->writeln($error->getMessage(), OutputInterface::OUTPUT_RAW);

            return self::FAILURE;
        }
        $many = count($tests) === 1 ? 'one test' : count($tests) . ' tests';
        $output->writeln($failed === 0 ? "{$many}, all as expected" : "{$many}, {$failed} not as expected", OutputInterface::OUTPUT_RAW);

        return $failed === 0 ? self::SUCCESS : self::FAILURE;
    }

    /**
     * @return list<string>
     *
     * @throws BadRule       where rules look at each other's alerts in a ring
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    private static function differences(RuleTest $test, RuleFiles $read, \DateTimeZone $zone): array
    {
        $rule = $read->rules[$test->rule] ?? null;
        if ($rule === null) {
            return ["  there is no rule {$test->rule} in these files"];
        }
        // It looks at the first reading already.
        $after = $test->from->minus($rule->definition->core()->step);
        $named = array_map(static fn(ExpectedMove $one): Phase => $one->to, $test->expected);
        $moved = array_filter(
            RulesOfFiles::run($read, $test->readings, $zone, $after, $test->to)[$test->rule] ?? [],
            static fn(AlertTransition $one): bool => !in_array($one->transition->to, self::PASSING, true)
                || in_array($one->transition->to, $named, true),
        );
        $lines = [];
        foreach ($test->expected as $expected) {
            $met = array_find_key($moved, static fn(AlertTransition $one): bool => $expected->isMetBy($one, $test->from));
            if ($met === null) {
                $lines[] = [$expected->at->ms, "  expected, not seen:  {$expected->words()}"];
            } else {
                unset($moved[$met]);
            }
        }
        foreach ($moved as $one) {
            $lines[] = [$one->transition->at->since($test->from)->ms, '  seen, not expected:  ' . ExpectedMove::wordsOf($one, $test->from)];
        }
        usort($lines, static fn(array $a, array $b): int => $a[0] <=> $b[0]);

        return array_column($lines, 1);
    }
}
