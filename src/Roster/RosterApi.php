<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Definition\AwayFields;
use Olivine\App\Roster\Definition\CoverFields;
use Olivine\App\Roster\Definition\RosterFields;
use Olivine\App\Roster\Entity\KeptRoster;
use Olivine\App\Roster\Repository\AbsenceRepository;
use Olivine\App\Roster\Repository\CoverRepository;
use Olivine\App\Roster\Repository\RosterRepository;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Who is on call when: rosters, covers and absences. */
#[IsGranted('ROLE_VIEWER')]
final readonly class RosterApi
{
    private const MOST_DAYS = 92;
    private const DAYS = 14;

    public function __construct(
        private RosterView $view,
        private FairnessView $fairness,
        private RosterRepository $rosters,
        private CoverRepository $covers,
        private AbsenceRepository $absences,
        private RosterKeeping $keeping,
        private CoverKeeping $coverKeeping,
        private AbsenceKeeping $absenceKeeping,
        private RosterUses $uses,
    ) {
    }

    #[Route('/api/rosters', methods: ['GET'])]
    public function rosters(): JsonResponse
    {
        return new JsonResponse($this->view->all());
    }

    /** @throws Problem 422 naming the field */
    #[Route('/api/rosters', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function make(#[Body] RosterFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $roster = $this->keeping->begin($fields->definition, $fields->reason, $self);

        return new JsonResponse($this->view->one($roster->id(), '', self::DAYS, $self), 201);
    }

    /** @throws Problem 404; 422 naming the field */
    #[Route('/api/rosters/{id<\d{1,9}>}', methods: ['GET'])]
    public function roster(int $id, Request $request, #[CurrentUser] Person $self): JsonResponse
    {
        $days = $request->query->getInt('days', self::DAYS);
        if ($days < 1 || $days > self::MOST_DAYS) {
            throw Problem::field('days', 'days must be a whole number from 1 to ' . self::MOST_DAYS);
        }

        return new JsonResponse($this->view->one($id, $request->query->getString('from'), $days, $self));
    }

    /** @throws Problem 409 where somebody changed it since it was read; 422 naming the field */
    #[Route('/api/rosters/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, #[Body] RosterFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $roster = $this->rosters->there($id);
        $this->uses->holdName($roster->name, $fields->definition->name);
        $this->keeping->change($roster, $fields->definition, $fields->holdsFrom, $fields->reason, $self, $fields->number);

        return new JsonResponse($this->view->one($id, '', self::DAYS, $self));
    }

    /** @throws Problem 409 where it is used */
    #[Route('/api/rosters/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $roster = $this->rosters->there($id);
        $this->uses->holdName($roster->name, '');
        $this->keeping->remove($roster);

        return new JsonResponse(null, 204);
    }

    /** @throws Problem 404 */
    #[Route('/api/rosters/{id<\d{1,9}>}/fairness', methods: ['GET'])]
    public function fairness(int $id): JsonResponse
    {
        return new JsonResponse($this->fairness->lastQuarter($this->rosters->there($id)));
    }

    /** @throws Problem 404; 422 naming the field */
    #[Route('/api/rosters/{id<\d{1,9}>}/what-if', methods: ['POST'])]
    public function whatIf(int $id, #[Body] RosterFields $fields): JsonResponse
    {
        return new JsonResponse($this->fairness->whatIf($this->rosters->there($id), $fields->definition, $fields->holdsFrom));
    }

    /** @throws Problem 403, 404; 422 naming the field */
    #[Route('/api/rosters/{id<\d{1,9}>}/covers', methods: ['POST'])]
    #[AsAWhole]
    public function cover(int $id, #[Body] CoverFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $roster = $this->rosters->there($id);

        return new JsonResponse($this->view->cover($this->coverKeeping->ask($roster, $fields, $self), $roster->name, $self), 201);
    }

    /** @throws Problem 403, 404, 409 */
    #[Route('/api/covers/{id<\d{1,9}>}/accept', defaults: ['accepts' => true], methods: ['POST'])]
    #[Route('/api/covers/{id<\d{1,9}>}/decline', defaults: ['accepts' => false], methods: ['POST'])]
    #[AsAWhole]
    public function answer(int $id, bool $accepts, #[CurrentUser] Person $self): JsonResponse
    {
        $cover = $this->covers->there($id);
        $roster = $this->of($cover->rosterId);
        $this->coverKeeping->answer($cover, $roster, $accepts, $self);

        return new JsonResponse($this->view->cover($cover, $roster->name, $self));
    }

    /** @throws Problem 403, 404, 409 */
    #[Route('/api/covers/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    public function withdraw(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $cover = $this->covers->there($id);
        $this->coverKeeping->withdraw($cover, $this->of($cover->rosterId), $self);

        return new JsonResponse(null, 204);
    }

    /** @throws Problem 403, 404; 422 naming the field */
    #[Route('/api/absences', methods: ['POST'])]
    #[AsAWhole]
    public function away(#[Body] AwayFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->view->absence($this->absenceKeeping->enter($fields, $self), $self), 201);
    }

    /** @throws Problem 403, 404, 409 */
    #[Route('/api/absences/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    public function back(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->absenceKeeping->end($this->absences->there($id), $self);

        return new JsonResponse(null, 204);
    }

    private function of(int $roster): KeptRoster
    {
        return $this->rosters->there($roster);
    }
}
