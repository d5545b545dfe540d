<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\Choosable;
use Olivine\App\Delivery\Answer\PlanChoices;
use Olivine\App\Delivery\Answer\PlanPage;
use Olivine\App\Delivery\Answer\PlanRevision as ShownRevision;
use Olivine\App\Delivery\Answer\ShownCopy;
use Olivine\App\Delivery\Answer\ShownLadder;
use Olivine\App\Delivery\Answer\ShownPath;
use Olivine\App\Delivery\Answer\ShownPlan;
use Olivine\App\Delivery\Answer\ShownPlanDraft;
use Olivine\App\Delivery\Answer\ShownRung;
use Olivine\App\Delivery\Answer\ShownTeam;
use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\TeamDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Delivery\Repository\PlanDraftRepository;
use Olivine\App\Delivery\Repository\PlanRevisionRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\KeptRosters;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Time\Instant;

/** Who hears, as it is set up: in service, as a draft, and as it was. */
final readonly class PlanView
{
    private const MOST_REVISIONS = 50;

    public function __construct(
        private PlanInService $inService,
        private PlanDraftRepository $drafts,
        private PlanRevisionRepository $revisions,
        private PlanRevisions $kept,
        private Plans $plans,
        private WhoHears $who,
        private IncidentRepository $incidents,
        private PersonRepository $people,
        private Channels $channels,
        private Settings $settings,
        private PartsFromFiles $fromFiles,
        private KeptRosters $rosters,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem */
    public function page(): PlanPage
    {
        return new PlanPage($this->shown($this->inService->plan()), $this->draft(), $this->choices(), $this->fromFiles->all());
    }

    /** @return list<ShownRevision> the newest first */
    public function revisions(): array
    {
        $names = $this->people->names();
        $shown = [];
        $kept = $this->revisions->newest(self::MOST_REVISIONS);
        foreach ($kept as $i => $one) {
            $before = isset($kept[$i + 1]) ? $this->plans->readable($kept[$i + 1]->definition) : $this->kept->readable($one->number - 1);
            $now = $this->plans->readable($one->definition);
            $shown[] = new ShownRevision(
                number: $one->number,
                at: $one->at,
                author: $names[$one->authorId] ?? null,
                reason: $one->reason,
                changes: $before === null || $now === null ? [] : PlanChanges::between($before, $now),
            );
        }

        return $shown;
    }

    /** @throws Problem */
    private function draft(): ?ShownPlanDraft
    {
        $draft = $this->drafts->there();
        $plan = $draft === null ? null : $this->plans->readable($draft->definition);
        if ($draft === null || $plan === null) {
            return null;
        }
        $inService = $this->inService->plan();

        return new ShownPlanDraft(
            $this->shown($this->inService->working($plan, $inService->number)),
            $draft->base,
            $draft->version,
            $draft->at,
            $this->people->names()[$draft->authorId] ?? null,
            PlanChanges::between($inService->definition, $plan),
        );
    }

    /** @throws Problem */
    private function shown(WorkingPlan $plan): ShownPlan
    {
        $configuration = $this->who->by($plan);
        $now = $this->clock->now();
        $names = $this->people->names();
        $definition = $plan->definition;
        $open = $this->incidents->openByPath();
        $paths = [];
        foreach ($plan->paths as $i => $path) {
            $paths[] = self::path($definition->paths[$i], $path, $open[$path->name] ?? 0, $configuration, $now, $names);
        }
        $ladders = array_map(
            static fn(LadderDefinition $ladder): ShownLadder => new ShownLadder(
                $ladder,
                self::rungs($ladder->core(), $configuration, $now, $names),
                PlanUses::of($definition, 'ladder', $ladder->name),
            ),
            $definition->ladders,
        );
        $copies = array_map(static fn(CopyDefinition $copy): ShownCopy => self::copy($copy, $configuration, $now, $names), $definition->copies);
        $byAddress = array_column(array_map(static fn(Person $one): array => [$one->email, $one->name], $this->people->byName()), 1, 0);
        $teams = array_map(
            static fn(TeamDefinition $team): ShownTeam => new ShownTeam(
                $team,
                array_map(static fn(string $address): string => $byAddress[$address] ?? $address, $team->people),
                PlanUses::of($definition, 'team', $team->name),
            ),
            $definition->teams,
        );

        return new ShownPlan($plan->number, $paths, $ladders, $copies, $teams);
    }

    /** @param array<int, string> $names */
    private static function path(
        PathDefinition $definition,
        Path $path,
        int $open,
        Configuration $configuration,
        Instant $now,
        array $names,
    ): ShownPath {
        return new ShownPath(
            $definition,
            $path->gather->words(),
            PlanText::hours($definition->hours),
            $open,
            $path->ladder->times,
            $path->ladder->until->value,
            self::rungs($path->ladder, $configuration, $now, $names),
        );
    }

    /**
     * @param array<int, string> $names
     *
     * @return list<ShownRung>
     */
    private static function rungs(Ladder $ladder, Configuration $configuration, Instant $now, array $names): array
    {
        $rungs = [];
        foreach ($ladder->steps as $step) {
            $who = array_map(static fn(Who $one): string => $one->words(), $step->who);
            $rungs[] = new ShownRung($who, $step->by, self::named($configuration->reached($step->who, $now), $names), $step->after->ms);
        }

        return $rungs;
    }

    /**
     * @param array<int, string> $names
     *
     * @throws Problem
     */
    private static function copy(CopyDefinition $copy, Configuration $configuration, Instant $now, array $names): ShownCopy
    {
        $who = array_map(static fn(WhoDefinition $one): Who => $one->core(), $copy->who);

        return new ShownCopy(
            $copy,
            PlanText::hours($copy->hours),
            array_map(PlanText::who(...), $copy->who),
            self::named($who === [] ? [] : $configuration->reached($who, $now), $names),
        );
    }

    private function choices(): PlanChoices
    {
        $people = array_filter($this->people->byName(), static fn(Person $one): bool => $one->mayAct());

        return new PlanChoices(
            array_values(array_map(static fn(Person $one): Choosable => new Choosable($one->email, $one->name), $people)),
            array_column(Role::cases(), 'value'),
            $this->rosters->names(),
            $this->channels->ways(),
            $this->settings->zone()->getName(),
        );
    }

    /**
     * @param list<int>          $people
     * @param array<int, string> $names
     *
     * @return list<string>
     */
    private static function named(array $people, array $names): array
    {
        return array_map(static fn(int $person): string => $names[$person] ?? '', $people);
    }
}
