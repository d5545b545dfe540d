<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\SetAside;
use Olivine\App\Rule\RuleProblems;
use Olivine\App\Supervise\Instance;
use Olivine\Core\Series\Quantity;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('olivine:status', 'How each part and each open incident is')]
final class StatusCommand extends Command
{
    public function __construct(
        private readonly Instance $instance,
        private readonly Connection $connection,
        private readonly RuleProblems $problems,
        private readonly SetAside $aside,
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        if ($this->instance->supervisorPid() === null) {
            $output->writeln("It does not run. Start it with: {$this->instance->startCommand()}");

            return 3;
        }
        $now = Clock::nowMs();
        $reports = $this->connection->fetchAllAssociativeIndexed('SELECT name, at, figures FROM part_status');
        $healthy = true;
        foreach ($this->instance->parts() as $name => $part) {
            $alive = $this->instance->isOurs($part['pid']);
            $report = $reports[$name] ?? null;
            $silent = $report !== null && $now - (int) $report['at'] > 20_000;
            $healthy = $healthy && $alive && !$silent;
            $output->writeln(
                sprintf(
                    '  %-11s %-8s since %s%s%s',
                    $name,
                    !$alive ? 'down' : ($silent ? 'silent' : 'up'),
                    Quantity::span(max(0, $now - 1000 * $part['since'])),
                    $part['restarts'] > 0 ? ", started again {$part['restarts']}×" : '',
                    $report === null ? '' : '   ' . self::figures((string) $report['figures']),
                ),
            );
        }
        $healthy = $this->tellTargets($output, $now) && $healthy;
        $healthy = $this->tellRules($output, $now) && $healthy;
        foreach ($this->aside->now() as $item) {
            $healthy = false;
            $output->writeln("  {$item['part']} set aside {$item['subject']}: {$item['reason']}", OutputInterface::OUTPUT_RAW);
        }
        $open = $this->connection->fetchAllAssociative(
            "SELECT i.*, p.name AS person FROM incident i LEFT JOIN person p ON p.id = i.acknowledged_by WHERE i.status <> 'resolved'
             ORDER BY FIELD(severity, 'critical', 'major', 'minor', 'warning'), opened_at",
        );
        $output->writeln($open === [] ? '  No open incident.' : '');
        foreach ($open as $row) {
            $output->writeln(
                sprintf(
                    '  %4d  %-8s  %s, since %s, %s',
                    $row['id'],
                    $row['severity'],
                    $row['title'],
                    Quantity::span($now - (int) $row['opened_at']),
                    $row['status'] === 'acknowledged' ? "{$row['person']} has it" : 'nobody has it',
                ),
            );
        }

        return $healthy ? Command::SUCCESS : Command::FAILURE;
    }

    /** @return bool whether all of them report on time */
    private function tellTargets(OutputInterface $output, int $nowMs): bool
    {
        $known = (int) $this->connection->fetchOne('SELECT COUNT(*) FROM target WHERE removed_at IS NULL AND NOT paused');
        $silent = $this->connection->fetchAllAssociative(
            'SELECT t.name, s.message, s.ok_at FROM target t LEFT JOIN target_status s ON s.target_id = t.id
             WHERE t.removed_at IS NULL AND NOT t.paused AND (s.ok = 0 OR COALESCE(s.at, t.created_at) < ? - 3000 * t.interval_seconds) ORDER BY t.name',
            [$nowMs],
        );
        $new = (int) $this->connection->fetchOne(
            'SELECT COUNT(*) FROM target t LEFT JOIN target_status s ON s.target_id = t.id
             WHERE t.removed_at IS NULL AND NOT t.paused AND s.at IS NULL AND t.created_at >= ? - 3000 * t.interval_seconds',
            [$nowMs],
        );
        $output->writeln(
            sprintf(
                "\n  %d of %d targets report on time%s.",
                $known - count($silent) - $new,
                $known,
                $new === 0 ? '' : ", {$new} were not asked yet",
            ),
        );
        foreach ($silent as $row) {
            $since = $row['ok_at'] === null ? 'never yet' : 'not for ' . Quantity::span(max(0, $nowMs - (int) $row['ok_at']));
            $output->writeln(
                OneLine::of(
                    "  {$row['name']} reported {$since}" . ((string) $row['message'] === '' ? '' : ": {$row['message']}"),
                ),
                OutputInterface::OUTPUT_RAW,
            );
        }

        return $silent === [];
    }

    /** @return bool whether all of them can be evaluated */
    private function tellRules(OutputInterface $output, int $nowMs): bool
    {
        $problems = $this->problems->now();
        foreach ($problems as $problem) {
            $output->writeln(
                OneLine::of(
                    "The rule {$problem->rule} cannot be evaluated since " .
                        Quantity::span($nowMs - $problem->sinceMs) .
                        ": {$problem->message}",
                ),
                OutputInterface::OUTPUT_RAW,
            );
        }

        return $problems === [];
    }

    private static function figures(string $json): string
    {
        $words = [];
        foreach ((array) json_decode($json, true) as $name => $value) {
            if (!str_starts_with((string) $name, 'process_')) {
                $words[] =
                    str_replace(['olivine_', '_total', '_'], ['', '', ' '], (string) $name) . ' ' . round((float) $value, 2);
            }
        }

        return implode(', ', $words);
    }
}
