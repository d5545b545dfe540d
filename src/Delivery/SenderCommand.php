<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Part;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:sender', 'Sends what waits in the queue of one channel')]
final class SenderCommand extends Command
{
    public function __construct(private readonly Database $database, private readonly Channels $channels, private readonly Sender $sender)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('part', InputArgument::REQUIRED, 'mail, webhooks, chat, sms, voice or tickets');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $part = PartName::from(Scalar::text($input->getArgument('part')));
        // Whoever looks a name up waits no longer than a message may take.
        putenv('RES_OPTIONS=timeout:1 attempts:1');
        $this->sender->serve($this->channels->of($part));

        return (new Part($this->database, $part, $output))->run($this->sender);
    }
}
