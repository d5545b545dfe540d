<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\ReplayedAlerts;
use Olivine\App\Formula\GivenTime;
use Olivine\App\Formula\WrongCall;
use Olivine\App\Platform\CalledFrom;
use Olivine\App\Platform\Scalar;
use Olivine\App\Roster\Files\RosterFileReader;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Definition\UnreadableFields;
use Olivine\App\Rule\Files\RulesOfFiles;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;

/** What `rules replay` printed goes in, what would have become of it comes out. */
#[AsCommand('olivine:deliver', 'Prints what would become of transitions by files alone')]
final class DeliverCommand extends OfflineCommand
{
    public function __construct(PlanFileReader $reader, RosterFileReader $rosters, private readonly RulesOfFiles $rules)
    {
        parent::__construct($reader, $rosters);
    }

    protected function configure(): void
    {
        parent::configure();
        $this->addOption('transitions', null, InputOption::VALUE_REQUIRED, 'JSON lines as rules replay prints them; - is standard input')
            ->addOption('from', null, InputOption::VALUE_REQUIRED, 'What happened before is passed over: seconds since 1970, or 2026-11-23T03:12:00Z')
            ->addOption('to', null, InputOption::VALUE_REQUIRED, 'The last instant');
    }

    protected function lines(InputInterface $input, OfflinePlan $plan, array $files): array
    {
        $rules = array_map(static fn($rule): RuleDefinition => $rule->definition, $this->rules->whole($files)->rules);
        [$from, $to] = [GivenTime::instant('from', $input), GivenTime::instant('to', $input)];
        $alerts = new ReplayedAlerts(new CourseReplay($plan->configuration));
        foreach ($this->transitions($input) as [$at, $rule, $labels, $phase, $severity]) {
            if ($at->isBefore($from) || $at->isAfter($to)) {
                continue;
            }
            $definition = $rules[$rule] ?? new RuleDefinition($rule, '0', UnreadableFields::nothing());
            $alerts->happens($definition, "{$rule} {$labels->key()}", $labels, $phase, $severity, $at);
        }
        $alerts->replay->passTo($to);

        return CourseLines::of($alerts->replay, $plan);
    }

    /**
     * @return list<array{Instant, string, LabelSet, Phase, Severity|null}> in the order of time
     *
     * @throws WrongCall naming the line that cannot be read
     */
    private function transitions(InputInterface $input): array
    {
        $name = Scalar::text($input->getOption('transitions') ?? throw new WrongCall('Say where the transitions are: --transitions FILE'));
        $text = @file_get_contents($name === '-' ? 'php://stdin' : CalledFrom::path($name));
        if ($text === false) {
            throw new WrongCall("{$name} cannot be read");
        }
        $read = [];
        foreach (explode("\n", $text) as $i => $line) {
            if (trim($line) !== '') {
                $read[] = self::transition($line) ?? throw new WrongCall(
                    sprintf('%s:%d: a line is {"at": …, "rule": …, "labels": {…}, "to": "raised", "severity": "major"}', $name, $i + 1),
                );
            }
        }
        usort($read, static fn(array $a, array $b): int => $a[0]->ms <=> $b[0]->ms);

        return $read;
    }

    /** @return array{Instant, string, LabelSet, Phase, Severity|null}|null */
    private static function transition(string $line): ?array
    {
        $one = json_decode($line, true, 8);
        if (!is_array($one) || !is_numeric($one['at'] ?? null) || !is_string($one['rule'] ?? null) || !is_string($one['to'] ?? null)) {
            return null;
        }
        $labels = $one['labels'] ?? [];
        $phase = Phase::tryFrom($one['to']);
        $severity = is_string($one['severity'] ?? null) ? Severity::tryFrom($one['severity']) : null;
        if (!is_array($labels) || array_filter($labels, is_string(...)) !== $labels || $phase === null) {
            return null;
        }
        $texts = array_combine(array_map(strval(...), array_keys($labels)), $labels);

        return [Instant::ofMs((int) round(1_000 * (float) $one['at'])), $one['rule'], LabelSet::of($texts), $phase, $severity];
    }
}
