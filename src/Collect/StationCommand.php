<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Check\CheckAskers;
use Olivine\App\Collect\Check\CheckSecrets;
use Olivine\App\Collect\Check\References;
use Olivine\App\Collect\Station\Backlog;
use Olivine\App\Collect\Station\Centre;
use Olivine\App\Collect\Station\Station;
use Olivine\App\Collect\Station\StationFault;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** Asks checks from this machine for a centre elsewhere. It asks the centre, and is never asked. */
#[AsCommand('olivine:station', 'Asks checks from here for a centre elsewhere')]
final class StationCommand extends Command
{
    private const JOIN_AGAIN_SECONDS = 10;
    private bool $goesOn = true;

    public function __construct(
        private readonly CheckAskers $askers,
        private readonly References $references,
        private readonly CheckSecrets $secrets,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('to', null, InputOption::VALUE_REQUIRED, 'address of the centre, such as https://olivine.example')
            ->addOption('token', null, InputOption::VALUE_REQUIRED, 'lets it join, once; or the file that holds it, behind an @')
            ->addOption('place', null, InputOption::VALUE_REQUIRED, 'what its place is called')
            ->addOption('state', null, InputOption::VALUE_REQUIRED, 'folder where it keeps its key and what waits');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        [$to, $place, $state, $token] = array_map(
            static fn(string $name): string => Scalar::text($input->getOption($name) ?? ''),
            ['to', 'place', 'state', 'token'],
        );
        $say = static fn(string $words) => $output->writeln(date('Y-m-d H:i:s') . "  {$words}");
        $host = (string) parse_url($to, PHP_URL_HOST);
        $isHere = in_array($host, ['127.0.0.1', '[::1]', 'localhost'], true);
        if ($place === '' || preg_match('~^https?://~', $to) !== 1 || (!$isHere && !str_starts_with($to, 'https://'))) {
            $output->writeln('It needs --to=https://… (of another machine over TLS only) and --place=NAME');

            return Command::INVALID;
        }
        $state = $state === '' ? Scalar::text($_SERVER['OLIVINE_STATE_DIR'] ?? sys_get_temp_dir()) : $state;
        is_dir($state) || mkdir($state, 0o700, true);
        foreach ([SIGTERM, SIGINT] as $signal) {
            pcntl_async_signals(true);
            pcntl_signal($signal, fn() => $this->goesOn = false);
        }
        try {
            $centre = $this->joined(rtrim($to, '/'), $token, $place, $state, $say);
        } catch (StationFault $fault) {
            $output->writeln($fault->getMessage());

            return Command::FAILURE;
        }
        $station = new Station($this->askers, $this->references, $this->secrets, new Backlog("{$state}/waiting"), $centre, "{$state}/orders.json", $say);
        while ($this->goesOn) {
            $station->round();
        }
        $this->askers->abandon();

        return Command::SUCCESS;
    }

    /**
     * With the key of another time, or by the token.
     *
     * @param \Closure(string): void $say
     *
     * @throws StationFault
     */
    private function joined(string $to, #[\SensitiveParameter] string $token, string $place, string $state, \Closure $say): Centre
    {
        $file = "{$state}/key";
        $key = trim((string) @file_get_contents($file));
        if ($key !== '') {
            return new Centre($to, $key);
        }
        $isFile = str_starts_with($token, '@');
        while ($this->goesOn) {
            $shown = $isFile ? trim((string) @file_get_contents(substr($token, 1))) : $token;
            $centre = new Centre($to);
            try {
                $shown !== '' || throw new StationFault('It needs a token to join: make one under Fleet, Places');
                $key = $centre->join($shown, $place);
                touch($file);
                chmod($file, 0o600);
                file_put_contents($file, $key);
                $say("Joined {$to} as {$place}");

                return $centre;
            } catch (StationFault $fault) {
                if (!$isFile) {
                    throw $fault;
                }
                // Whoever starts it puts the token there, and the centre up, when they can.
                $say("{$fault->getMessage()}; it is tried again");
                sleep(self::JOIN_AGAIN_SECONDS);
            }
        }

        throw new StationFault('It was stopped before it could join');
    }
}
