<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Answer\TargetGroup as ShownGroup;
use Olivine\App\Collect\Definition\GroupFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Entity\TargetGroup;
use Olivine\App\Collect\Repository\TargetGroupRepository;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\LabelChanges;
use Olivine\Core\Series\LabelSet;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Groups of targets; a change reaches every member that inherits it. */
#[IsGranted('ROLE_VIEWER')]
final readonly class GroupApi
{
    public function __construct(
        private EntityManagerInterface $entities,
        private TargetRepository $targets,
        private TargetGroupRepository $groups,
        private TargetForm $form,
        private Audit $audit,
        private LabelChanges $labelChanges,
    ) {
    }

    #[Route('/api/groups', methods: ['GET'])]
    public function groups(): JsonResponse
    {
        $members = $this->targets->countsByGroup();

        return new JsonResponse(
            array_map(
                fn(TargetGroup $group): ShownGroup => $this->shown($group, $members[$group->id()] ?? 0),
                $this->groups->byName(),
            ),
        );
    }

    #[Route('/api/groups', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(#[Body] GroupFields $fields): JsonResponse
    {
        $group = new TargetGroup('');
        $this->form->fillGroup($group, $fields);
        $this->entities->persist($group);
        $this->entities->flush();
        $shown = $this->shown($group, 0);
        $this->audit->record('added', "group {$group->name}", null, $shown);

        return new JsonResponse($shown, 201);
    }

    #[Route('/api/groups/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, #[Body] GroupFields $fields): JsonResponse
    {
        $group = $this->groups->there($id);
        $before = $this->shown($group, $this->targets->countIn($group));
        Versions::hold($fields->version, $group->version, $before);
        $members = $this->targets->everIn($group);
        $laid = array_map(self::laid(...), $members);
        $this->form->fillGroup($group, $fields);
        array_walk($members, static fn(Target $target) => $target->inherit());
        $this->entities->flush();
        foreach ($members as $i => $target) {
            $this->labelChanges->follow($laid[$i], self::laid($target));
        }
        $shown = $this->shown($group, $this->targets->countIn($group));
        $this->audit->record('changed', "group {$group->name}", $before, $shown);

        return new JsonResponse($shown);
    }

    #[Route('/api/groups/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $group = $this->groups->there($id);
        $members = $this->targets->countIn($group);
        if ($members > 0) {
            throw new Problem(
                409,
                $members === 1
                    ? '1 target is in this group; move it out first'
                    : "{$members} targets are in this group; move them out first",
            );
        }
        $before = $this->shown($group, 0);
        // Targets that are removed but could come back stand alone from now on.
        foreach ($this->targets->everIn($group) as $target) {
            $target->group = null;
            $target->inherit();
        }
        $this->entities->remove($group);
        $this->entities->flush();
        $this->audit->record('removed', "group {$before->name}", $before, null);

        return new JsonResponse(null, 204);
    }

    /** @return array<string, string> */
    private static function laid(Target $target): array
    {
        return $target->labels + ['target' => $target->name];
    }

    private function shown(TargetGroup $group, int $members): ShownGroup
    {
        return new ShownGroup(
            id: $group->id(),
            name: $group->name,
            credential: $this->form->shownCredential($group->credential),
            intervalSeconds: $group->intervalSeconds,
            labels: LabelSet::of($group->labels),
            members: $members,
            timeoutSeconds: $group->timeoutSeconds,
            version: $group->version,
        );
    }
}
