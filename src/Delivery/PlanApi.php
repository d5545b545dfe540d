<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\CopyFields;
use Olivine\App\Delivery\Definition\LadderFields;
use Olivine\App\Delivery\Definition\NamedDefinition;
use Olivine\App\Delivery\Definition\OrderFields;
use Olivine\App\Delivery\Definition\PathFields;
use Olivine\App\Delivery\Definition\PlanDraftFields;
use Olivine\App\Delivery\Definition\PlanFields;
use Olivine\App\Delivery\Definition\TeamFields;
use Olivine\App\Delivery\Definition\TryFields;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Who hears: read, changed as a draft, tried, put into service. */
#[IsGranted('ROLE_VIEWER')]
final readonly class PlanApi
{
    public function __construct(
        private PlanView $view,
        private PlanDrafts $drafts,
        private PlanRevisions $revisions,
        private AlertTrial $alerts,
        private PlanTrial $past,
        private PartsFromFiles $fromFiles,
    ) {
    }

    #[Route('/api/plan', methods: ['GET'])]
    public function plan(): JsonResponse
    {
        return new JsonResponse($this->view->page());
    }

    #[Route('/api/plan/revisions', methods: ['GET'])]
    public function revisions(): JsonResponse
    {
        return new JsonResponse($this->view->revisions());
    }

    /** @throws Problem naming the field that cannot be so */
    #[Route('/api/plan/try', methods: ['POST'])]
    public function tryAlert(#[Body] TryFields $fields): JsonResponse
    {
        return new JsonResponse($this->alerts->of($fields));
    }

    /** @throws Problem 429 where too much is under way already */
    #[Route('/api/plan/draft/past', methods: ['POST'])]
    public function tryPast(): JsonResponse
    {
        return new JsonResponse($this->past->compared());
    }

    /** @throws Problem 409 where somebody changed the draft, or what it changes, or it changes what comes from files; 422 naming the field */
    #[Route('/api/plan', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function putIntoService(#[Body] PlanFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->fromFiles->holdDraft($fields->overFiles);
        $this->revisions->putDraftIntoService($fields->version, $fields->reason, $self);

        return new JsonResponse($this->view->page());
    }

    /** A way back: a former revision as the draft. */
    #[Route('/api/plan/draft', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function begin(#[Body] PlanDraftFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->drafts->begin($this->revisions->numbered($fields->revision), $self);

        return new JsonResponse($this->view->page());
    }

    #[Route('/api/plan/draft', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function drop(): JsonResponse
    {
        $this->drafts->drop();

        return new JsonResponse(null, 204);
    }

    #[Route('/api/plan/draft/order', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function order(#[Body] OrderFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->drafts->order($fields->paths, $self);

        return new JsonResponse($this->view->page());
    }

    #[Route('/api/plan/draft/paths', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function addPath(#[Body] PathFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return $this->put(PlanPart::Path, null, $fields->definition, null, $self, $fields->before);
    }

    #[Route('/api/plan/draft/paths/{name<.{1,80}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function changePath(string $name, #[Body] PathFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return $this->put(PlanPart::Path, $name, $fields->definition, $fields->was, $self);
    }

    #[Route('/api/plan/draft/ladders', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function addLadder(#[Body] LadderFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return $this->put(PlanPart::Ladder, null, $fields->definition, null, $self);
    }

    #[Route('/api/plan/draft/ladders/{name<.{1,80}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function changeLadder(string $name, #[Body] LadderFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return $this->put(PlanPart::Ladder, $name, $fields->definition, $fields->was, $self);
    }

    #[Route('/api/plan/draft/copies', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function addCopy(#[Body] CopyFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return $this->put(PlanPart::Copy, null, $fields->definition, null, $self);
    }

    #[Route('/api/plan/draft/copies/{name<.{1,80}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function changeCopy(string $name, #[Body] CopyFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return $this->put(PlanPart::Copy, $name, $fields->definition, $fields->was, $self);
    }

    #[Route('/api/plan/draft/teams', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function addTeam(#[Body] TeamFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return $this->put(PlanPart::Team, null, $fields->definition, null, $self);
    }

    #[Route('/api/plan/draft/teams/{name<.{1,80}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function changeTeam(string $name, #[Body] TeamFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return $this->put(PlanPart::Team, $name, $fields->definition, $fields->was, $self);
    }

    /** @throws Problem 409 where others still use it */
    #[Route('/api/plan/draft/paths/{name<.{1,80}>}', defaults: ['kind' => 'path'], methods: ['DELETE'])]
    #[Route('/api/plan/draft/ladders/{name<.{1,80}>}', defaults: ['kind' => 'ladder'], methods: ['DELETE'])]
    #[Route('/api/plan/draft/copies/{name<.{1,80}>}', defaults: ['kind' => 'copy'], methods: ['DELETE'])]
    #[Route('/api/plan/draft/teams/{name<.{1,80}>}', defaults: ['kind' => 'team'], methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(PlanPart $kind, string $name, #[CurrentUser] Person $self): JsonResponse
    {
        $this->drafts->remove($kind, $name, $self);

        return new JsonResponse(null, 204);
    }

    /**
     * @param array<array-key, mixed>|null $was
     *
     * @throws Problem
     */
    private function put(PlanPart $kind, ?string $name, NamedDefinition $part, ?array $was, Person $self, ?string $before = null): JsonResponse
    {
        $this->drafts->put($kind, $name, $part, $was, $before, $self);

        return new JsonResponse($this->view->page(), $name === null ? 201 : 200);
    }
}
