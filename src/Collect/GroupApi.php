<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Entity\TargetGroup;
use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\LabelChanges;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Groups of targets; a change reaches every member that inherits it. */
#[IsGranted('ROLE_VIEWER')]
final readonly class GroupApi
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $connection,
        private TargetForm $form,
        private Audit $audit,
        private LabelChanges $labelChanges,
    ) {
    }

    #[Route('/api/groups', methods: ['GET'])]
    public function groups(): JsonResponse
    {
        $members = $this->connection->fetchAllKeyValue(
            'SELECT group_id, COUNT(*) FROM target WHERE removed_at IS NULL AND group_id IS NOT NULL GROUP BY group_id',
        );

        return new JsonResponse(
            array_map(
                fn(TargetGroup $group): array => $this->shown($group) + ['members' => (int) ($members[$group->id()] ?? 0)],
                $this->entities->getRepository(TargetGroup::class)->findBy([], ['name' => 'ASC']),
            ),
        );
    }

    #[Route('/api/groups', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(Request $request): JsonResponse
    {
        $group = new TargetGroup('');
        $this->form->fillGroup($group, Input::of($request));
        $this->entities->persist($group);
        $this->entities->flush();
        $this->audit->record('added', "group {$group->name}", null, $this->shown($group));

        return new JsonResponse($this->shown($group) + ['members' => 0], 201);
    }

    #[Route('/api/groups/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, Request $request): JsonResponse
    {
        $group = $this->find($id);
        $input = Input::of($request);
        $before = $this->shown($group);
        Versions::hold($input, $group->version, $before);
        $members = $this->entities->getRepository(Target::class)->findBy(['group' => $group]);
        $laid = array_map(self::laid(...), $members);
        $this->form->fillGroup($group, $input);
        array_walk($members, static fn(Target $target) => $target->settle());
        $this->entities->flush();
        foreach ($members as $i => $target) {
            $this->labelChanges->follow($laid[$i], self::laid($target));
        }
        $this->audit->record('changed', "group {$group->name}", $before, $this->shown($group));

        return new JsonResponse($this->shown($group) + ['members' => $this->members($group)]);
    }

    #[Route('/api/groups/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $group = $this->find($id);
        $members = $this->members($group);
        if ($members > 0) {
            throw new Problem(
                409,
                $members === 1
                    ? '1 target is in this group; move it out first'
                    : "{$members} targets are in this group; move them out first",
            );
        }
        $before = $this->shown($group);
        // Targets that are removed but could come back stand alone from now on.
        foreach ($this->entities->getRepository(Target::class)->findBy(['group' => $group]) as $target) {
            $target->group = null;
            $target->settle();
        }
        $this->entities->remove($group);
        $this->entities->flush();
        $this->audit->record('removed', "group {$before['name']}", $before, null);

        return new JsonResponse(null, 204);
    }

    /** @return array<string, string> */
    private static function laid(Target $target): array
    {
        return $target->labels + ['target' => $target->name];
    }

    private function find(int $id): TargetGroup
    {
        return $this->entities->find(TargetGroup::class, $id) ?? throw new Problem(404, "There is no group {$id}");
    }

    private function members(TargetGroup $group): int
    {
        return $this->entities->getRepository(Target::class)->count(['group' => $group, 'removedAt' => null]);
    }

    /**
     * @return array{id: int|null, name: string, intervalSeconds: int, timeoutSeconds: int, labels: object, credential: array{kind: string, name: string}|null}
     */
    private function shown(TargetGroup $group): array
    {
        return [
            'id' => $group->id,
            'name' => $group->name,
            'intervalSeconds' => $group->intervalSeconds,
            'timeoutSeconds' => $group->timeoutSeconds,
            'labels' => (object) $group->labels,
            'credential' => $this->form->shownCredential($group->credential),
            'version' => $group->version,
        ];
    }
}
