<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Olivine\App\Collect\TargetStatuses;
use Olivine\App\Delivery\AwayChannels;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Delivery\UnheardPaths;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\PartReports;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SetAside;
use Olivine\App\Rule\RuleProblems;
use Olivine\App\Supervise\Instance;
use Olivine\Core\Time\Instant;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:status', 'How each part and each open incident is')]
final class StatusCommand extends Command
{
    private const SILENT_MS = 20_000;
    private const MOST_SILENT = 1_000;

    public function __construct(
        private readonly Instance $instance,
        private readonly PartReports $reports,
        private readonly TargetStatuses $statuses,
        private readonly RuleProblems $problems,
        private readonly IncidentRepository $incidents,
        private readonly PersonRepository $people,
        private readonly UnheardPaths $unheard,
        private readonly SetAside $aside,
        private readonly AwayChannels $away,
        private readonly Clock $clock = new Clock(),
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        if ($this->instance->supervisorPid() === null) {
            $output->writeln("It does not run. Start it with: {$this->instance->startCommand()}");

            return 3;
        }
        $now = $this->clock->now();
        $healthy = $this->tellParts($output, $now);
        $healthy = $this->tellTargets($output, $now) && $healthy;
        $healthy = $this->tellRules($output, $now) && $healthy;
        foreach ($this->aside->now() as $item) {
            $healthy = false;
            $output->writeln("  {$item->part} set aside {$item->subject}: {$item->reason}", OutputInterface::OUTPUT_RAW);
        }
        $healthy = $this->tellChannels($output, $now) && $healthy;
        $this->tellIncidents($output, $now);

        return $healthy ? Command::SUCCESS : Command::FAILURE;
    }

    /** @return bool whether all of them run and report */
    private function tellParts(OutputInterface $output, Instant $now): bool
    {
        $reports = $this->reports->now($now);
        $copies = $this->reports->copies();
        $healthy = true;
        foreach ($this->instance->parts() as $name => $part) {
            $report = $reports[$name] ?? null;
            $how = match (true) {
                !$this->instance->isOurs($part['pid']) => 'down',
                $report !== null && $report->ageMs > self::SILENT_MS => 'silent',
                default => 'up',
            };
            $healthy = $healthy && $how === 'up';
            $since = self::ago($now, Instant::ofMs(1000 * $part['since']));
            $again = $part['restarts'] > 0 ? ", started again {$part['restarts']}×" : '';
            $shared = ($copies[$name] ?? 1) > 1 ? ", {$copies[$name]} copies share its work" : '';
            $figures = $report === null ? '' : '   ' . self::figures(get_object_vars($report->figures));
            $output->writeln(sprintf('  %-11s %-8s since %s%s%s%s', $name, $how, $since, $again, $shared, $figures));
        }

        return $healthy;
    }

    /** @return bool whether each of them takes what it should, and somebody is there to be told */
    private function tellChannels(OutputInterface $output, Instant $now): bool
    {
        $away = $this->away->now();
        foreach ($away as $one) {
            $since = $one->since === null ? '' : ' for ' . self::ago($now, $one->since);
            $what = $one->isThere ? 'refuses some' : 'takes nothing';
            $output->writeln(OneLine::of("  {$one->name} {$what}{$since}: {$one->reason}; {$one->waiting} wait"), OutputInterface::OUTPUT_RAW);
        }
        $unheard = $this->unheard->now();
        if ($unheard !== []) {
            $output->writeln(OneLine::of('  Nobody would hear of what these answer for: ' . implode(', ', $unheard)), OutputInterface::OUTPUT_RAW);
        }

        return $away === [] && $unheard === [];
    }

    /** @return bool whether all of them report on time */
    private function tellTargets(OutputInterface $output, Instant $now): bool
    {
        $counts = $this->statuses->counts($now);
        $silent = $this->statuses->silent($now, self::MOST_SILENT);
        $new = $counts->new === 0 ? '' : ", {$counts->new} were not asked yet";
        $known = $counts->known - $counts->paused;
        $output->writeln("\n  {$counts->onTime} of {$known} targets report on time{$new}.");
        foreach ($silent as $target) {
            $since = $target->okAt === null ? 'never yet' : 'not for ' . self::ago($now, Instant::ofMs($target->okAt));
            $why = ($target->message ?? '') === '' ? '' : ": {$target->message}";
            $output->writeln(OneLine::of("  {$target->name} reported {$since}{$why}"), OutputInterface::OUTPUT_RAW);
        }

        return $silent === [];
    }

    private function tellIncidents(OutputInterface $output, Instant $now): void
    {
        $open = $this->incidents->notOver();
        $names = $this->people->names();
        $output->writeln($open === [] ? '  No open incident.' : '');
        foreach ($open as $incident) {
            $output->writeln(
                sprintf(
                    '  %4d  %-8s  %s, since %s, %s',
                    $incident->id(),
                    $incident->severity->value,
                    $incident->title,
                    self::ago($now, $incident->openedAt),
                    $incident->acknowledgedBy === null ? 'nobody has it' : "{$names[$incident->acknowledgedBy]} has it",
                ),
            );
        }
    }

    /** @return bool whether all of them can be evaluated */
    private function tellRules(OutputInterface $output, Instant $now): bool
    {
        $problems = $this->problems->now();
        foreach ($problems as $problem) {
            $output->writeln(
                OneLine::of(
                    "The rule {$problem->rule} cannot be evaluated since " .
                        self::ago($now, $problem->since) .
                        ": {$problem->message}",
                ),
                OutputInterface::OUTPUT_RAW,
            );
        }

        return $problems === [];
    }

    /** @param array<mixed> $figures */
    private static function figures(array $figures): string
    {
        $words = [];
        foreach ($figures as $name => $value) {
            if (!str_starts_with((string) $name, 'process_')) {
                $words[] =
                    str_replace(['olivine_', '_total', '_'], ['', '', ' '], (string) $name) .
                    ' ' .
                    round(Scalar::float($value), 2);
            }
        }

        return implode(', ', $words);
    }

    private static function ago(Instant $now, Instant $then): string
    {
        return $now->later($then)->since($then)->words();
    }
}
