<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Place;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Entity\TargetGroup;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\FirstPlan;
use Olivine\App\Delivery\IncidentBook;
use Olivine\App\Delivery\PlanRevisions;
use Olivine\App\Delivery\TakeMode;
use Olivine\App\Delivery\Trail;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Rule\AlertsMoved;
use Olivine\App\Rule\AlertStates;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\App\Rule\RuleProgress;
use Olivine\App\Rule\RuleRevisions;
use Olivine\App\Store\DayCloser;
use Olivine\App\Store\Partitions;
use Olivine\App\Store\Span;
use Olivine\App\Supervise\Instance;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\ManyRules;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;
use Symfony\Component\Process\Process;

/**
 * Fills an empty instance with the demo: people, targets, days of readings from the fleet, rules, and the
 * incidents that these rules find in those readings. An instance with people in it is left alone.
 */
#[AsCommand('olivine:demo:fill', 'Fills an empty instance with the demo scenario')]
final class FillCommand extends Command
{
    private const LOADERS = 2;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Database $database,
        private readonly Instance $instance,
        private readonly Settings $settings,
        private readonly UserPasswordHasherInterface $hasher,
        private readonly RuleEngine $engine,
        private readonly RuleRevisions $revisions,
        private readonly RuleDefinitions $definitions,
        private readonly DemoJudgements $judgements,
        private readonly PlanRevisions $plans,
        private readonly DemoRosters $rosters,
        private readonly DemoChannels $channels,
        private readonly DemoChecks $checks,
        private readonly DemoJobs $jobs,
        private readonly DemoCertificates $certificates,
        private readonly DemoStations $stations,
        private readonly DemoMutes $mutes,
        private readonly AlertStates $alerts,
        private readonly IncidentBook $book,
        private readonly Trail $trail,
        private readonly Partitions $partitions,
        private readonly DayCloser $closer,
        private readonly Clock $clock = new Clock(),
    ) {
        parent::__construct();
    }

    /**
     * @throws AlertsMoved   where the labels of alerts were changed meanwhile
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     * @throws Problem       what is wrong with the request, and the remedy
     */
    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        if ($this->database->connection->fetchOne('SELECT COUNT(*) FROM rule') > 0) {
            return Command::SUCCESS;
        }
        foreach (
            [
                ...Partitions::TABLES, 'scrape_row', 'series', 'metric', 'page', 'target', 'target_group', 'roster', 'roster_revision', 'person',
                'channel', 'action', 'template_revision', 'push_browser', 'job_key', 'job_run', 'station_token', 'arrival', 'check_state', 'evidence', 'pushed',
            ] as $table
        ) {
            $this->database->connection->executeStatement("DELETE FROM {$table}");
        }
        $this->database->connection->executeStatement('DELETE FROM place WHERE id <> ?', [Place::CENTRE]);
        $days = (int) $this->instance->env()['OLIVINE_DEMO_DAYS'];
        $this->instance->progress('adding people and targets');
        $this->addPeople();
        $this->channels->make($this->instance->ports(), $this->clock->now());
        $ines = $this->entities->getRepository(Person::class)->findOneBy(['email' => 'ines@saltmarsh.example']);
        if ($ines !== null) {
            $this->channels->letBrowsersBeTold($this->instance->ports(), $ines->id(), $this->clock->now());
        }
        $this->addTargets();
        $this->checks->make($this->instance->ports(), $this->clock->now());
        $this->stations->letJoin("{$this->instance->dir}/stations", $this->clock->now());
        $this->certificates->make("{$this->instance->dir}/certificates");
        $this->jobs->make("{$this->instance->dir}/jobs", $days, $this->clock->now());
        $now = $this->clock->now()->ms;
        if ($days > 0) {
            $this->instance->progress("loading {$days} days of history");
            $this->partitions->cover($now - ($days + 1) * 86_400_000, $now + 86_400_000);
            $this->loadHistory(intdiv($now, 1000) - $days * 86_400, intdiv($now, 1000));
            $this->partitions->packTight();
            $this->closer->remember(Span::dayOf($now) - 2 * Span::DAY_MS);
        }
        $this->instance->progress('finding the incidents of those days with the rules');
        $from = Instant::ofMs($now)->minus(Duration::ofDays($days));
        foreach (DemoRules::all() as $definition) {
            $rule = $this->revisions->begin($definition);
            $rule->createdAt = $rule->inService->at = $from;
        }
        $this->replay($from, Instant::ofMs($now));
        $this->judgements->make($from, Instant::ofMs($now));
        $this->rosters->make(Instant::ofMs($now));
        $this->mutes->make(Instant::ofMs($now));
        // What lies in the past was found by what is installed.
        $this->plans->putIntoService(DemoPlan::over(FirstPlan::of($this->settings)), DemoPlan::REASON, null);

        return Command::SUCCESS;
    }

    private function addPeople(): void
    {
        foreach ([...DemoPeople::SIGN_INS, ...DemoPeople::OTHERS] as [$name, $email, $role]) {
            $person = new Person($name, $email, $role);
            $person->passwordHash = $this->hasher->hashPassword($person, DemoPeople::PASSWORD);
            $this->entities->persist($person);
        }
        $this->entities->flush();
    }

    private function addTargets(): void
    {
        $ports = $this->instance->ports();
        /** @var list<array{name: string, path: string, intervalSeconds: int, labels: array<string, string>}> $fleet */
        $fleet = json_decode(
            (string) file_get_contents("http://127.0.0.1:{$ports->fleet()}/targets"),
            true,
            8,
            JSON_THROW_ON_ERROR,
        );
        $own = [
            [
                'name' => 'this-machine',
                'url' => "http://127.0.0.1:{$ports->agent()}/metrics",
                'intervalSeconds' => 15,
                'labels' => ['service' => 'own', 'host' => 'this-machine', 'kind' => 'server'],
            ],
            [
                'name' => 'olivine',
                'url' => "{$this->settings->publicUrl()}/api/own-metrics",
                'intervalSeconds' => 15,
                'labels' => ['service' => 'own', 'kind' => 'olivine'],
            ],
        ];
        $groups = [];
        foreach (['broker' => 'Brokers', 'database' => 'Databases'] as $kind => $name) {
            $this->entities->persist($group = $groups[$kind] = new TargetGroup($name));
            $group->intervalSeconds = $kind === 'broker' ? 15 : 60;
        }
        foreach (
            [
                ...array_map(
                    static fn(array $one): array => $one + ['url' => "http://127.0.0.1:{$ports->fleet()}{$one['path']}"],
                    $fleet,
                ),
                ...$own,
            ] as $one
        ) {
            $target = new Target($one['name'], $one['url'], $this->clock->now());
            $target->intervalSeconds = $one['intervalSeconds'];
            $target->ownLabels = $one['labels'];
            $target->group = $groups[$one['labels']['kind'] ?? ''] ?? null;
            $target->inherits =
                $target->group?->intervalSeconds === $target->intervalSeconds ? ['interval', 'timeout', 'credential'] : [];
            $target->inherit();
            $this->entities->persist($target);
        }
        $this->entities->flush();
    }

    private function loadHistory(int $from, int $to): void
    {
        $processes = [];
        for ($share = 0; $share < self::LOADERS; ++$share) {
            $command = sprintf(
                '%s standins/fleet-history.php --from=%d --to=%d --share=%d/%d --ahead=%d | %s -d memory_limit=2G bin/console olivine:demo:load',
                escapeshellarg(PHP_BINARY),
                $from,
                $to,
                $share,
                self::LOADERS,
                (int) ($this->instance->env()['OLIVINE_FLEET_AHEAD'] ?? 0),
                escapeshellarg(PHP_BINARY),
            );
            $process = Process::fromShellCommandline('set -e; ' . $command, $this->settings->projectDir, null, null, 600.0);
            $process->start();
            $processes[] = $process;
        }
        foreach ($processes as $process) {
            $process->wait();
            if (!$process->isSuccessful() || (int) $process->getOutput() === 0) {
                throw new \RuntimeException('The history could not be loaded: ' . $process->getErrorOutput());
            }
        }
    }

    /**
     * @throws FormulaError
     * @throws TooMuchToRead
     * @throws AlertsMoved
     * @throws BadRule
     * @throws Problem
     */
    private function replay(Instant $from, Instant $now): void
    {
        $rules = $cores = [];
        foreach ($this->entities->getRepository(Rule::class)->findAll() as $rule) {
            $rules[$rule->name] = $rule;
            $cores[$rule->name] = $this->definitions->of($rule->inService)->core();
        }
        foreach ((new ManyRules($cores))->inOrder() as $name) {
            $rule = $rules[$name];
            $core = $cores[$name];
            $through = $now->onStep($core->step);
            $outcome = $this->engine->run($core, [], $from, $through);
            $this->alerts->save(
                $rule->id(),
                $rule->inService->id(),
                [],
                $outcome,
                new RuleProgress($through, RuleProgress::hash($core)),
            );
        }
        while ($this->book->takeTransitions(TakeMode::Replay) > 0) {
        }
        // Whatever is open at the end is a matter for the living: the ladder starts for it now.
        foreach ($this->entities->getRepository(Incident::class)->findAll() as $incident) {
            if ($incident->status !== IncidentStatus::Resolved) {
                $incident->replayed = false;
                $this->trail->add($incident->id(), $now, TrailKind::Alert, 'still open as the demo begins: the ladder starts');
            }
        }
        $this->entities->flush();
    }
}
