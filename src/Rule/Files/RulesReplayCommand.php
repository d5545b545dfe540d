<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\App\Files\BadFiles;
use Olivine\App\Files\FilesGiven;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\NoSuchFile;
use Olivine\App\Formula\GivenTime;
use Olivine\App\Formula\WrongCall;
use Olivine\App\Platform\CalledFrom;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Limits;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Exposition\TextReadings;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\BadRule;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * What the rules of some files would have raised over a file of readings, a JSON object a line, without a server: 0 is well, 1 a
 * fault in rules or readings, 2 a wrong call.
 */
#[AsCommand('olivine:rules:replay', 'Replays rules of files over a file of readings')]
final class RulesReplayCommand extends Command
{
    private const JSON = JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION;

    public function __construct(private readonly RulesOfFiles $rules)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('files', InputArgument::IS_ARRAY | InputArgument::REQUIRED, 'Files, or folders with all that is YAML in them')
            ->addOption('data', null, InputOption::VALUE_REQUIRED, 'OpenMetrics text with timestamps; - is standard input')
            ->addOption('from', null, InputOption::VALUE_REQUIRED, 'The instant after which rules look: seconds since 1970, or 2026-11-23T03:12:00Z')
            ->addOption('to', null, InputOption::VALUE_REQUIRED, 'The last instant')
            ->addOption('zone', null, InputOption::VALUE_REQUIRED, 'Whose clocks are meant by the same hours of other days', 'UTC');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        try {
            $lines = $this->replayed($input);
        } catch (WrongCall|NoSuchFile $error) {
            return self::ended($output, self::INVALID, $error->getMessage());
        } catch (BadExposition $error) {
            return self::ended($output, self::FAILURE, "line {$error->lineNumber}: {$error->getMessage()}");
        } catch (BadFiles|BadRule|FormulaError|TooMuchToRead $error) {
            return self::ended($output, self::FAILURE, $error->getMessage());
        }
        foreach ($lines as $line) {
            $output->writeln($line, OutputInterface::OUTPUT_RAW);
        }

        return self::SUCCESS;
    }

    /**
     * @return list<string>
     *
     * @throws WrongCall     where an option is missing or cannot be
     * @throws NoSuchFile    where one cannot be read
     * @throws BadFiles      where the rules cannot be read
     * @throws BadExposition where the text is none, naming the line
     * @throws BadRule       where rules look at each other's alerts in a ring
     * @throws FormulaError  where two sides cannot be paired
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    private function replayed(InputInterface $input): array
    {
        $files = FilesGiven::read(array_map(Scalar::text(...), array_values((array) $input->getArgument('files'))), Kinds::ALL);
        $read = $this->rules->whole($files);
        $data = Scalar::text($input->getOption('data') ?? throw new WrongCall('Say where the readings are: --data FILE'));
        $text = @file_get_contents(CalledFrom::path($data));
        if ($text === false) {
            throw new WrongCall("{$data} cannot be read");
        }
        $readings = new TextReadings(TextReader::read($text, Form::ofText($text), Limits::forFiles()));
        $from = GivenTime::instant('from', $input);
        $to = GivenTime::instant('to', $input);
        if ($to->isBefore($from)) {
            throw new WrongCall('--to lies before --from');
        }
        $lines = [];
        foreach (RulesOfFiles::run($read, $readings, GivenTime::zone($input), $from, $to) as $key => $transitions) {
            foreach ($transitions as $one) {
                $lines[] = [$one->transition->at->ms, self::line($key, $one)];
            }
        }
        usort($lines, static fn(array $a, array $b): int => $a[0] <=> $b[0]);

        return array_column($lines, 1);
    }

    private static function line(string $key, AlertTransition $one): string
    {
        $transition = $one->transition;
        $value = $transition->value;

        return json_encode(
            [
                'rule' => $key,
                'labels' => (object) $one->labels->labels,
                'at' => $transition->at->ms / 1000,
                'from' => $transition->from->value,
                'to' => $transition->to->value,
                'severity' => $transition->severity?->value,
                'value' => $value === null || is_finite($value) ? $value : (string) $value,
            ],
            self::JSON,
        );
    }

    private static function ended(OutputInterface $output, int $code, string $message): int
    {
        $output->writeln(
            json_encode(['ok' => false, 'error' => ['message' => $message]], self::JSON | JSON_INVALID_UTF8_SUBSTITUTE),
            OutputInterface::OUTPUT_RAW,
        );

        return $code;
    }
}
