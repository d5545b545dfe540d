<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

use Doctrine\DBAL\Connection;
use Olivine\App\Recipe\StarterRules;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\ArrayInput;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:migrate-schema', 'Waits for the database, then brings its tables up to date')]
final class MigrateSchemaCommand extends Command
{
    private const PATIENCE_SECONDS = 30.0;

    public function __construct(
        private readonly Connection $connection,
        private readonly Instance $instance,
        private readonly StarterRules $starterRules,
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $until = microtime(true) + self::PATIENCE_SECONDS;
        while (true) {
            try {
                $this->connection->executeQuery('SELECT 1');
                break;
            } catch (\Throwable $error) {
                if (microtime(true) > $until) {
                    throw $error;
                }
                usleep(100_000);
            }
        }
        $arguments = new ArrayInput([
            'command' => 'doctrine:migrations:migrate',
            '--no-interaction' => true,
            '--allow-no-migration' => true,
        ]);
        $arguments->setInteractive(false);

        $code = $this->getApplication()?->find('doctrine:migrations:migrate')->run($arguments, $output) ?? Command::FAILURE;
        // The demo brings rules of its own.
        if ($code === Command::SUCCESS && !$this->instance->hasStandins()) {
            // Changes of tables end transactions behind the back of whoever counts them.
            $this->connection->close();
            $this->starterRules->lay();
        }

        return $code;
    }
}
