<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Action;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Delivery\Answer\ActionsAbout;
use Olivine\App\Delivery\Answer\ShownAction;
use Olivine\App\Delivery\Answer\ShownRun;
use Olivine\App\Delivery\Channel\Handover;
use Olivine\App\Delivery\Channel\JsonBody;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Olivine\App\Delivery\Entity\ActionRun;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;
use Olivine\App\Delivery\Entity\PreparedAction;
use Olivine\App\Delivery\Repository\ActionRepository;
use Olivine\App\Delivery\Repository\ActionRunRepository;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Delivery\Trail;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Series\LabelSet;

/** Does what is prepared about an incident or a target; what came of it stands with it, and on the trail. */
final readonly class ActionRuns
{
    private const LONGEST_SECONDS = 20.0;
    private const MOST_SHOWN = 20;
    private const LONGEST_WORDS = 300;

    public function __construct(
        private EntityManagerInterface $entities,
        private ActionRepository $actions,
        private ActionRunRepository $runs,
        private IncidentAlertRepository $alerts,
        private PersonRepository $people,
        private Handover $handover,
        private Trail $trail,
        private Settings $settings,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    public function aboutIncident(Incident $incident, Person $self): ActionsAbout
    {
        $alerts = $this->upIn($incident);

        return new ActionsAbout(
            $this->matching($alerts, $self),
            array_map($this->shown(...), $this->runs->ofIncident($incident->id(), self::MOST_SHOWN)),
        );
    }

    public function aboutTarget(Target $target, Person $self): ActionsAbout
    {
        return new ActionsAbout(
            $this->matching([self::labelsOf($target)], $self),
            array_map($this->shown(...), $this->runs->ofTarget($target->name, self::MOST_SHOWN)),
        );
    }

    /**
     * @param int $shown the version of the action that was looked at
     *
     * @throws Problem 403 where they may not; 409 where it is another one by now, or does not concern it
     */
    public function run(PreparedAction $action, int $shown, Person $by, ?Incident $incident, ?Target $target): ShownRun
    {
        if (!Actions::may($action, $by)) {
            throw new Problem(403, "{$action->name} is for {$action->role->value}s");
        }
        if ($action->version !== $shown) {
            throw new Problem(409, "{$action->name} was changed meanwhile; look at what it does now");
        }
        $labels = $incident === null ? ($target === null ? [] : [self::labelsOf($target)]) : $this->upIn($incident);
        $concerned = array_find($labels, static fn(LabelSet $one): bool => self::concerns($action, $one));
        if ($concerned === null) {
            throw new Problem(409, "{$action->name} does not concern it, or nothing of it is raised any more");
        }
        $began = $this->clock->now();
        $run = new ActionRun($action->id(), $action->name, $incident?->id(), $target->name ?? '', $by->id(), $began);
        $this->entities->persist($run);
        // Kept before it is asked for: what was begun is known whatever becomes of the asking.
        $this->entities->flush();
        [$run->done, $run->output] = $this->asked($action, $run, $by, $incident, $concerned);
        $run->endedAt = $this->clock->now();
        $what = $run->done === true ? 'done' : ($run->done === false ? 'failed' : 'nobody knows whether it was done');
        $took = $run->endedAt->since($began)->words();
        if ($incident !== null) {
            $words = rtrim("{$by->name} ran {$action->name}: {$what} after {$took}: {$run->output}", ': ');
            $this->trail->add($incident->id(), $run->endedAt, TrailKind::Note, mb_substr($words, 0, self::LONGEST_WORDS), "run {$run->id()}");
        }
        $this->audit->record('ran', "action {$action->name}", null, [
            'about' => $incident === null ? "target {$run->target}" : "incident {$incident->id()}",
            'what' => $what,
            'output' => mb_substr($run->output, 0, self::LONGEST_WORDS),
        ], $by);
        $this->entities->flush();

        return $this->shown($run);
    }

    /** @return array{bool|null, string} whether it was done, and what was said */
    private function asked(PreparedAction $action, ActionRun $run, Person $by, ?Incident $incident, LabelSet $labels): array
    {
        $body = [
            'id' => "run-{$run->id()}-" . bin2hex(random_bytes(6)),
            'action' => $action->name,
            'command' => $action->command,
            'by' => $by->email,
            'labels' => (object) $labels->labels,
            'incident' => $incident === null ? null : [
                'id' => $incident->id(),
                'title' => $incident->title,
                'severity' => $incident->severity->value,
                'page' => "{$this->settings->publicUrl()}/incidents/{$incident->id()}",
            ],
        ];
        try {
            $answer = $this->handover->post($action, JsonBody::of($body), mostSeconds: self::LONGEST_SECONDS);
        } catch (NotHandedOver $refused) {
            // What did not answer in time may have done it all the same.
            return [$refused->isUnheard ? null : false, $refused->getMessage()];
        }
        $said = $answer->said();
        $exit = $said['exit'] ?? null;
        $output = is_string($said['output'] ?? null) ? $said['output'] : $answer->text();
        $output = mb_substr(mb_scrub($output), 0, ActionRun::OUTPUT_LENGTH);

        return is_int($exit) ? [$exit === 0, trim("exit {$exit}\n{$output}")] : [true, $output === '' ? "status {$answer->status}" : $output];
    }

    /** @return list<LabelSet> of its alerts that are up, as a filter sees them; none in a rehearsal, as nothing is wrong */
    private function upIn(Incident $incident): array
    {
        if ($incident->rehearsedWith !== null) {
            return [];
        }
        $up = array_filter($this->alerts->of($incident->id()), static fn(IncidentAlert $one): bool => $one->clearedAt === null && !$one->isBroken());

        return array_values(array_map(static fn(IncidentAlert $one): LabelSet => $one->about(), $up));
    }

    /**
     * @param list<LabelSet> $labels
     *
     * @return list<ShownAction> that concern any of them
     */
    private function matching(array $labels, Person $self): array
    {
        $concerning = array_filter(
            $this->actions->byName(),
            static fn(PreparedAction $action): bool => array_any($labels, static fn(LabelSet $one): bool => self::concerns($action, $one)),
        );

        return array_values(array_map(static fn(PreparedAction $one): ShownAction => Actions::shown($one, $self), $concerning));
    }

    private static function concerns(PreparedAction $action, LabelSet $labels): bool
    {
        try {
            return Parser::filterOf($action->matching)->accepts($labels);
        } catch (FormulaError) {
            return false;
        }
    }

    private static function labelsOf(Target $target): LabelSet
    {
        return LabelSet::of(['target' => $target->name] + $target->labels);
    }

    private function shown(ActionRun $run): ShownRun
    {
        return new ShownRun(
            $run->id(),
            $run->name,
            $this->people->names()[$run->personId] ?? 'somebody who is gone',
            $run->begunAt,
            $run->endedAt,
            $run->done,
            $run->output,
        );
    }
}
