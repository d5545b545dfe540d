<?php

declare(strict_types=1);

namespace Olivine\App\Setup;

use Olivine\App\Delivery\Definition\ChannelFields;
use Olivine\App\People\Audit;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Console\Style\SymfonyStyle;

#[AsCommand('olivine:secret:set', 'Keeps a secret under a name, for files to name; read from the terminal or from standard input')]
final class SecretCommand extends Command
{
    /** An address may be one, too. */
    private const LONGEST = 2_000;

    public function __construct(private readonly NamedSecrets $secrets, private readonly Audit $audit)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('name', InputArgument::REQUIRED, 'Such as ticket-desk');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $name = Scalar::text($input->getArgument('name'));
        if (preg_match('~^[a-z0-9][a-z0-9.-]{0,59}$~D', $name) !== 1) {
            $output->writeln('The name must be small letters, digits, dots and dashes, such as ticket-desk.');

            return Command::INVALID;
        }
        $isTyped = stream_isatty(STDIN);
        $secret = $isTyped ? Scalar::text((new SymfonyStyle($input, $output))->askHidden('Secret')) : rtrim((string) stream_get_contents(STDIN), "\r\n");
        $least = ChannelFields::SHORTEST_SECRET;
        if (strlen($secret) < $least || strlen($secret) > self::LONGEST) {
            $output->writeln("The secret must have {$least} to " . self::LONGEST . ' characters.');

            return Command::INVALID;
        }
        $this->secrets->set($name, $secret);
        $this->audit->record('set', "secret {$name}", null, null);
        $output->writeln("The secret {$name} is kept, sealed. Files name it: secret: {$name}", OutputInterface::OUTPUT_RAW);

        return Command::SUCCESS;
    }
}
