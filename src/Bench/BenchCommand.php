<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\TargetReader;
use Olivine\App\Platform\Database;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Supervise\Instance;
use Olivine\App\Supervise\Parts;
use Olivine\App\Supervise\Ports;
use Olivine\App\Supervise\RunningPart;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Layout;
use Olivine\Core\Exposition\TextReader;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Process\Process;

/** Measures on this machine, each speed beside a baseline of the same run. */
#[AsCommand('olivine:bench', 'Measures; one figure a line')]
final class BenchCommand extends Command
{
    private const SERIES = 2_000;
    private const ROUNDS = 5;
    private const SCRAPES_A_COMMIT = 5;

    public function __construct(private readonly Instance $instance, private readonly Parts $parts)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('names', InputArgument::IS_ARRAY, 'read, ingest; all where none is named');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $names = (array) $input->getArgument('names');
        $wanted = static fn(string $name): bool => $names === [] || in_array($name, $names, true);
        $say = static function (string $name, float $value, string $unit) use ($output): void {
            $output->writeln(sprintf('%s: %s %s', $name, $value >= 100 ? number_format($value, 0, '.', '') : number_format($value, 2, '.', ''), $unit));
        };
        if ($wanted('read')) {
            $this->read($say);
        }
        if ($wanted('ingest')) {
            $this->ingest($say);
        }

        return Command::SUCCESS;
    }

    /** @param callable(string, float, string): void $say */
    private function read(callable $say): void
    {
        $texts = self::texts(20);
        $layout = Layout::of($texts[0], TextReader::read($texts[0], Form::OpenMetrics)) ?? throw new \LogicException('The text has a steady shape');
        $steady = self::best(static function () use ($layout, $texts): int {
            $lines = 0;
            for ($i = 0; $i < 10; ++$i) {
                foreach ($texts as $text) {
                    $lines += count($layout->values($text) ?? []);
                }
            }

            return $lines;
        });
        $whole = self::best(static function () use ($texts): int {
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

    /** @param callable(string, float, string): void $say */
    private function ingest(callable $say): void
    {
        $this->instance->prepare(new Ports((int) (getenv('OLIVINE_BENCH_PORT') ?: 8920)), false, 10, 0);
        $data = "{$this->instance->dir}/database";
        $user = $this->parts->databaseUser();
        (new Process(['rm', '-rf', $data]))->mustRun();
        mkdir($data, 0o700);
        chown($data, $user);
        (new Process(['mariadb-install-db', '--no-defaults', "--user={$user}", "--datadir={$data}", '--auth-root-authentication-method=socket', '--skip-test-db'], null, null, null, 120))->mustRun();
        $server = new RunningPart($this->parts->database(), $this->instance, ['PATH' => (string) getenv('PATH'), 'OLIVINE_SUPERVISED' => $this->instance->dir]);
        try {
            while (!$server->isReady()) {
                $server->keepRunning();
                usleep(50_000);
            }
            $database = new Database($this->connect());
            $ours = $this->ingestScrapes($database);
            $plain = $this->ingestPlainTable($database->connection);
            $say('ingest.readings_per_s', $ours, 'readings/s');
            $say('ingest.baseline_load_data', $plain, 'readings/s');
            $say('ingest.ratio', $ours / $plain, 'x');
        } finally {
            $server->signal();
            $server->awaitEnd();
        }
    }

    /** From texts in memory to rows committed: a few scrapes a statement, and each statement commits. */
    private function ingestScrapes(Database $database): float
    {
        self::tables($database->connection, $this->instance->projectDir());
        $database->connection->insert('target', ['name' => 'bench', 'url' => '', 'interval_seconds' => 15, 'timeout_seconds' => 10, 'labels' => '{}', 'paused' => 0, 'created_at' => 0]);
        $target = new Target('bench', '', 0);
        $target->id = (int) $database->connection->lastInsertId();
        $reader = new TargetReader($target, new SeriesRegister($database));
        $texts = self::texts(20);
        $reader->read($texts[0], Form::OpenMetrics, 1);
        $at = 1_795_000_000_000;
        $writer = new ScrapeWriter($database);

        return self::best(static function () use ($writer, $reader, $texts, &$at): int {
            $readings = 0;
            for ($i = 0; $i < 5; ++$i) {
                foreach (array_chunk($texts, self::SCRAPES_A_COMMIT) as $some) {
                    $rows = [];
                    foreach ($some as $text) {
                        array_push($rows, ...$reader->read($text, Form::OpenMetrics, $at += 15_000));
                        $readings += $reader->readings;
                    }
                    $writer->insert($rows);
                }
            }

            return $readings;
        });
    }

    /** The same readings, read already, by LOAD DATA into (series, time, value), as many scrapes a statement. */
    private function ingestPlainTable(Connection $connection): float
    {
        $connection->executeStatement('CREATE TABLE plain (series INT UNSIGNED NOT NULL, at BIGINT NOT NULL, value DOUBLE NOT NULL, PRIMARY KEY (series, at)) ENGINE=InnoDB');
        $file = "{$this->instance->dir}/run/plain.tsv";
        $at = 1_795_000_000_000;
        $native = $connection->getNativeConnection();
        \assert($native instanceof \PDO);

        return self::best(static function () use ($native, $file, &$at): int {
            $readings = 0;
            for ($statement = 0; $statement < 4; ++$statement) {
                $text = '';
                for ($scrape = 0; $scrape < self::SCRAPES_A_COMMIT; ++$scrape) {
                    $at += 15_000;
                    for ($series = 1; $series <= self::SERIES; ++$series) {
                        $text .= "{$series}\t{$at}\t" . $series * 1.25 . "\n";
                        ++$readings;
                    }
                }
                file_put_contents($file, $text);
                $native->exec('LOAD DATA LOCAL INFILE ' . $native->quote($file) . ' INTO TABLE plain');
            }

            return $readings;
        });
    }

    private function connect(): Connection
    {
        $socket = $this->parts->socket();
        $parameters = ['driver' => 'pdo_mysql', 'unix_socket' => $socket, 'user' => 'root', 'driverOptions' => [\PDO::MYSQL_ATTR_LOCAL_INFILE => true]];
        $connection = \Doctrine\DBAL\DriverManager::getConnection($parameters);
        $connection->executeStatement('SET GLOBAL local_infile = 1');
        $connection->executeStatement('CREATE DATABASE olivine CHARACTER SET utf8mb4');
        $connection->executeStatement('USE olivine');

        return $connection;
    }

    /**
     * @param callable(): int $work returns how many it did
     *
     * @return float the median rate of some rounds, a second
     */
    private static function best(callable $work): float
    {
        $rates = [];
        $work();
        for ($i = 0; $i < self::ROUNDS; ++$i) {
            $from = hrtime(true);
            $done = $work();
            $rates[] = $done / ((hrtime(true) - $from) / 1e9);
        }
        sort($rates);

        return $rates[intdiv(count($rates), 2)];
    }

    /** @return list<string> scrapes of 2,000 series with changing values */
    private static function texts(int $count): array
    {
        mt_srand(1);
        $texts = [];
        for ($i = 0; $i < $count; ++$i) {
            $text = "# TYPE http_requests counter\n# HELP http_requests Requests\n";
            for ($series = 0; $series < self::SERIES; ++$series) {
                $text .= sprintf("http_requests_total{host=\"web-%d\",route=\"/r%d\",status=\"%d\"} %s\n", $series % 20, intdiv($series, 20) % 20, 200 + intdiv($series, 400), (string) (mt_rand(0, 10_000_000) / 100));
            }
            $texts[] = $text . "# EOF\n";
        }

        return $texts;
    }

    private static function tables(Connection $connection, string $projectDir): void
    {
        foreach (['first_tables', 'store_tiers'] as $file) {
            foreach (explode(";\n", (string) file_get_contents("{$projectDir}/migrations/{$file}.sql")) as $statement) {
                trim($statement) === '' || $connection->executeStatement($statement);
            }
        }
    }
}
