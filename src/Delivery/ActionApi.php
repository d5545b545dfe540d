<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Delivery\Action\ActionRuns;
use Olivine\App\Delivery\Action\Actions;
use Olivine\App\Delivery\Definition\ActionFields;
use Olivine\App\Delivery\Definition\RunFields;
use Olivine\App\Delivery\Entity\PreparedAction;
use Olivine\App\Delivery\Repository\ActionRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Prepared actions: set up, and done about an incident or a target. */
#[IsGranted('ROLE_VIEWER')]
final readonly class ActionApi
{
    public function __construct(
        private ActionRepository $actions,
        private Actions $keeping,
        private ActionRuns $runs,
        private IncidentRepository $incidents,
        private TargetRepository $targets,
    ) {
    }

    #[Route('/api/actions', methods: ['GET'])]
    public function all(#[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse(array_map(static fn(PreparedAction $one): object => Actions::shown($one, $self), $this->actions->byName()));
    }

    /** @throws Problem naming the field */
    #[Route('/api/actions', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function add(#[Body] ActionFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        [$action, $secret] = $this->keeping->add($fields, $self);

        return new JsonResponse(Actions::shown($action, $self, $secret), 201);
    }

    /** @throws Problem 404, 409; 422 naming the field */
    #[Route('/api/actions/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function change(int $id, #[Body] ActionFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $action = $this->actions->there($id);
        $this->keeping->change($action, $fields, $self);

        return new JsonResponse(Actions::shown($action, $self));
    }

    /** @throws Problem 404 */
    #[Route('/api/actions/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function remove(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->keeping->remove($this->actions->there($id), $self);

        return new JsonResponse(null, 204);
    }

    /**
     * Not as a whole: that it was begun is kept before anybody is asked to do it.
     *
     * @throws Problem 403, 404, 409
     */
    #[Route('/api/actions/{id<\d{1,9}>}/run', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function run(int $id, #[Body] RunFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $incident = $fields->incident === null ? null : $this->incidents->there($fields->incident);
        $target = $fields->target === null ? null : $this->targets->there($fields->target);
        if (($incident === null) === ($target === null)) {
            throw Problem::field('incident', 'Say about which incident, or about which target');
        }

        return new JsonResponse($this->runs->run($this->actions->there($id), $fields->version, $self, $incident, $target));
    }

    /** @throws Problem 404 */
    #[Route('/api/incidents/{id<\d{1,9}>}/actions', methods: ['GET'])]
    public function aboutIncident(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->runs->aboutIncident($this->incidents->there($id), $self));
    }

    /** @throws Problem 404 */
    #[Route('/api/targets/{id<\d{1,9}>}/actions', methods: ['GET'])]
    public function aboutTarget(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->runs->aboutTarget($this->targets->there($id), $self));
    }
}
