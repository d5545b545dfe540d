<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Definition\ManyFields;
use Olivine\App\Collect\Definition\PauseFields;
use Olivine\App\Collect\Definition\TargetFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Answer\Changed;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\LabelChanges;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** The targets: listed, tested, added, changed, paused, removed for a day. */
#[IsGranted('ROLE_VIEWER')]
final readonly class FleetApi
{
    public function __construct(
        private EntityManagerInterface $entities,
        private TargetRepository $targets,
        private TargetStatuses $statuses,
        private FleetList $list,
        private Audit $audit,
        private TargetForm $form,
        private TargetTester $tester,
        private TargetRests $rests,
        private LabelChanges $labelChanges,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/targets', methods: ['GET'])]
    public function targets(): JsonResponse
    {
        return new JsonResponse($this->list->all());
    }

    #[Route('/api/targets/test', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function test(#[Body] TargetFields $fields): JsonResponse
    {
        // A target that is there already is tested with the credential it has.
        $target = $fields->id === null ? new Target('test', '', $this->clock->now()) : clone $this->targets->there($fields->id);
        $this->form->fillRequest($target, $fields);

        return new JsonResponse($this->tester->test($target));
    }

    #[Route('/api/targets', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(#[Body] TargetFields $fields): JsonResponse
    {
        $target = new Target('', '', $this->clock->now());
        $this->form->fill($target, $fields);
        $this->entities->persist($target);
        $this->entities->flush();
        $shown = $this->list->one($target->id());
        $this->audit->record('added', "target {$target->name}", null, $shown);

        return new JsonResponse($shown, 201);
    }

    /** All or none; answers which of them it changed, so that just these can be changed back. */
    #[Route('/api/targets/many', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function many(#[Body] ManyFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $now = $this->clock->now();
        $changed = array_values(array_filter($this->targets->of($fields->ids), $fields->action->concerns(...)));
        foreach ($changed as $target) {
            $fields->action->apply($target, $now);
        }
        $this->entities->flush();
        $ids = array_map(static fn(Target $target): int => $target->id(), $changed);
        if ($fields->action === ManyAction::Pause) {
            $this->statuses->tickPauses($ids, $now);
        }
        $this->rests->follow($changed, $self->name, $now);
        $names = array_map(static fn(Target $target): string => $target->name, $changed);
        if ($names !== []) {
            $this->audit->record($fields->action->past(), sprintf('%d targets', count($names)), null, ['targets' => $names]);
        }

        return new JsonResponse(new Changed($ids));
    }

    #[Route('/api/targets/{id<\d{1,9}>}/pause', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function pause(int $id, #[Body] PauseFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $target = $this->targets->there($id);
        $now = $this->clock->now();
        $before = $target->paused;
        $target->paused = $fields->paused;
        $this->entities->flush();
        if ($target->paused && !$before) {
            $this->statuses->tickPauses([$target->id()], $now);
        }
        $this->rests->follow([$target], $self->name, $now);
        $this->audit->record(
            $target->paused ? 'paused' : 'resumed',
            "target {$target->name}",
            ['paused' => $before],
            ['paused' => $target->paused],
        );

        return new JsonResponse($this->list->one($target->id()));
    }

    #[Route('/api/targets/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, #[Body] TargetFields $fields): JsonResponse
    {
        $target = $this->targets->there($id);
        $elsewhere = $target->kind->elsewhere();
        if ($elsewhere !== null) {
            throw new Problem(409, "{$target->name} {$elsewhere}");
        }
        $before = $this->list->one($target->id());
        Versions::hold($fields->version, $target->version, $before);
        $laid = self::laid($target);
        $this->form->fill($target, $fields);
        $this->entities->flush();
        $this->labelChanges->follow($laid, self::laid($target));
        $shown = $this->list->one($target->id());
        $this->audit->record('changed', "target {$target->name}", $before, $shown);

        return new JsonResponse($shown);
    }

    #[Route('/api/targets/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $target = $this->targets->there($id);
        $before = $this->list->one($target->id());
        $target->removedAt = $this->clock->now();
        $this->entities->flush();
        $this->rests->follow([$target], $self->name, $this->clock->now());
        $this->audit->record('removed', "target {$target->name}", $before, null);

        return new JsonResponse(null, 204);
    }

    /** Takes a removal back; its readings are still there. */
    #[Route('/api/targets/{id<\d{1,9}>}/restore', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function restore(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $target = $this->targets->thereOrRemoved($id);
        $target->removedAt = null;
        $this->entities->flush();
        $this->rests->follow([$target], $self->name, $this->clock->now());
        $shown = $this->list->one($target->id());
        $this->audit->record('restored', "target {$target->name}", null, $shown);

        return new JsonResponse($shown);
    }

    /** @return array<string, string> what it lays over the labels of its series */
    private static function laid(Target $target): array
    {
        return $target->labels + ['target' => $target->name];
    }
}
