<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\Delivery\Entity\PlanRevision;
use Olivine\App\Delivery\Repository\PlanDraftRepository;
use Olivine\App\Delivery\Repository\PlanRevisionRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Notes;
use Olivine\Core\Delivery\Listener;

/** Puts plans into service: each is a revision more, and none is ever changed. */
final readonly class PlanRevisions
{
    public function __construct(
        private EntityManagerInterface $entities,
        private PlanRevisionRepository $revisions,
        private PlanDraftRepository $drafts,
        private Plans $plans,
        private Settings $settings,
        private PersonRepository $people,
        private Notes $notes,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * The draft, with what came into service since it began.
     *
     * @param int $version of the draft, as it was read
     *
     * @throws Problem 409 where somebody changed the draft since, or what it changes was changed in service too; 422 naming the field
     */
    public function putDraftIntoService(int $version, string $reason, Person $author): void
    {
        $draft = $this->drafts->held() ?? throw new Problem(409, 'There is no draft any more; somebody put it into service, or threw it away');
        if ($draft->version !== $version) {
            throw new Problem(409, 'Somebody changed the draft since you read it; look at it once more');
        }
        $plan = $this->plans->read($draft->definition);
        $newest = $this->revisions->newestNumber();
        if ($draft->base !== $newest) {
            [$plan, $conflicts] = PlanChanges::merged($this->numbered($draft->base), $this->numbered($newest), $plan);
            if ($conflicts !== []) {
                $which = implode(' and ', $conflicts);
                throw new Problem(409, "Changed in service meanwhile, and in the draft too: {$which}. Change it there once more, or throw the draft away");
            }
        }
        $this->putIntoService($plan, $reason, $author);
        $this->entities->remove($draft);
        $this->entities->flush();
    }

    /** @throws Problem 422 naming the field */
    public function putIntoService(PlanDefinition $plan, string $reason, ?Person $author): void
    {
        $this->plans->check($plan);
        $newest = $this->revisions->newestNumber();
        $before = $this->readable($newest);
        $changes = PlanChanges::between($this->numbered($newest), $plan);
        $this->entities->persist(new PlanRevision($newest + 1, Plans::kept($plan), $author?->id, $reason, $this->clock->now()));
        $this->entities->flush();
        $this->audit->record('put into service', 'delivery revision ' . ($newest + 1), null, ['reason' => $reason, 'changes' => $changes]);
        $this->tellNewcomers($before, $plan, $newest + 1, $author);
    }

    /** Whoever is new on a ladder or in a team hears of it. */
    private function tellNewcomers(?PlanDefinition $before, PlanDefinition $plan, int $number, ?Person $author): void
    {
        $was = $before === null ? [] : self::placesOf($before);
        $ids = $this->people->byAddress();
        foreach (self::placesOf($plan) as $where => $addresses) {
            $came = array_intersect_key($ids, array_flip(array_diff($addresses, $was[$where] ?? [])));
            $this->notes->ofBeingPut(array_values($came), $where, "plan-{$number}." . hash('xxh32', $where), $author);
        }
    }

    /** @return array<string, list<string>> `the team piers`, `the ladder piers` → addresses of those who are named there */
    private static function placesOf(PlanDefinition $plan): array
    {
        $places = [];
        foreach ($plan->teams as $team) {
            $places["the team {$team->name}"] = $team->people;
        }
        foreach ($plan->ladders as $ladder) {
            $named = array_merge(...array_map(static fn(RungDefinition $rung): array => $rung->who, $ladder->rungs));
            $people = array_filter($named, static fn(WhoDefinition $who): bool => $who->listener === Listener::Person);
            $places["the ladder {$ladder->name}"] = array_values(array_map(static fn(WhoDefinition $who): string => $who->name, $people));
        }

        return $places;
    }

    /** @return PlanDefinition|null null where it is not there, or cannot be read any more */
    public function readable(int $number): ?PlanDefinition
    {
        try {
            return $this->numbered($number);
        } catch (Problem) {
            return null;
        }
    }

    /**
     * @param int $number 0: as it was installed
     *
     * @throws Problem 404
     */
    public function numbered(int $number): PlanDefinition
    {
        return $number === 0 ? FirstPlan::of($this->settings) : $this->plans->read($this->revisions->numbered($number)->definition);
    }
}
