<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Definition\JobFields;
use Olivine\App\Collect\Entity\JobRun;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Job\JobForm;
use Olivine\App\Collect\Job\JobKeys;
use Olivine\App\Collect\Pushed\Pushes;
use Olivine\App\People\AccessTokens;
use Olivine\App\People\Entity\AccessToken;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\TokenScope;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Job\RunOutcome;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Symfony\Component\Process\Process;

/** What runs by itself at Saltmarsh Ferries: its jobs, how they ran of late, and where the simulated ones report. */
final readonly class DemoJobs
{
    private const FAILED_WITH = 4;
    /** The name under which the tide import hands in what it counted. */
    private const COUNTS = 'tide import counts';

    public function __construct(
        private EntityManagerInterface $entities,
        private JobForm $form,
        private JobKeys $keys,
        private Pushes $pushes,
        private PersonRepository $people,
        private Settings $settings,
    ) {
    }

    /** @throws Problem where one of them cannot be so */
    public function make(string $folder, int $days, Instant $now): void
    {
        $from = $now->minus(Duration::ofDays($days));
        [$jobs, $addresses] = [[], []];
        foreach (self::all() as $fields) {
            $job = new Target('', '', $from);
            $this->form->fill($job, $fields);
            $this->entities->persist($job);
            $this->entities->flush();
            $this->keys->renew($job);
            $jobs[$job->name] = $job->id();
            $addresses[$job->name] = $this->keys->address($job);
        }
        foreach ($this->ran($from, $now) as ['job' => $name, 'began' => $began, 'ended' => $ended, 'wrong' => $wrong]) {
            $run = new JobRun($jobs[$name], (string) $began, Instant::ofMs(1000 * $began));
            if (1000 * $ended <= $now->ms) {
                $isWell = $wrong === '';
                $outcome = $isWell ? RunOutcome::Done : RunOutcome::Failed;
                $run->end(Instant::ofMs(1000 * $ended), $outcome, $isWell ? 0 : self::FAILED_WITH, $isWell ? "done\n" : $wrong);
            }
            $this->entities->persist($run);
        }
        $this->entities->flush();
        file_put_contents("{$folder}/addresses.json", json_encode($addresses, JSON_THROW_ON_ERROR));
        chmod("{$folder}/addresses.json", 0o644);
        $this->letCountsIn($folder, $now);
    }

    /**
     * What the tide import counts it hands in itself, with a token that is good for nothing else.
     *
     * @throws Problem
     */
    private function letCountsIn(string $folder, Instant $now): void
    {
        $ines = $this->people->findOneBy(['email' => 'ines@saltmarsh.example']) ?? throw new \LogicException('Ines is not there yet');
        $token = AccessTokens::PREFIX . bin2hex(random_bytes(20));
        $scopes = [TokenScope::Readings->value];
        $this->entities->persist(
            new AccessToken($ines->id(), self::COUNTS, AccessTokens::digest($token), $scopes, $now, $now->plus(Duration::ofDays(365))),
        );
        $this->entities->flush();
        $counted = '{"tide_forecasts_imported": 288, "tide_forecast_ahead_seconds": {"value": 172800, "unit": "seconds"}}';
        $this->pushes->take(self::COUNTS, $counted, null, Duration::ofHours(1));
        file_put_contents("{$folder}/token", $token);
        chmod("{$folder}/token", 0o644);
    }

    /** @return list<array{job: string, began: int, ended: int, wrong: string}> */
    private function ran(Instant $from, Instant $to): array
    {
        $process = new Process(
            [PHP_BINARY, 'standins/jobs.php', '--from=' . intdiv($from->ms, 1000), '--to=' . intdiv($to->ms, 1000)],
            $this->settings->projectDir,
        );
        $process->mustRun();
        $runs = [];
        foreach (explode("\n", rtrim($process->getOutput())) as $line) {
            if ($line === '') {
                continue;
            }
            /** @var array{job: string, began: int, ended: int, wrong: string} $run */
            $run = json_decode($line, true, 4, JSON_THROW_ON_ERROR);
            $runs[] = $run;
        }

        return $runs;
    }

    /** @return list<JobFields> */
    private static function all(): array
    {
        $zone = 'Europe/Lisbon';

        return [
            new JobFields('nightly backup', '30 2 * * *', $zone, null, 900, 3_600, 1, ['service' => 'manifests', 'site' => 'port-ellery']),
            new JobFields('tide import', null, null, 900, 300, 120, 1, ['service' => 'tide-tables', 'site' => 'skarn']),
            new JobFields('crew rota export', '5 * * * *', $zone, null, 300, null, 1, ['service' => 'crew-rota']),
            new JobFields('ticket settlement', '15 23 * * *', $zone, null, 900, 1_800, 1, ['service' => 'tickets']),
        ];
    }
}
