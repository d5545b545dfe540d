<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\MatchFields;
use Olivine\App\Delivery\Definition\MuteFields;
use Olivine\App\Delivery\Repository\KeptMuteRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Mutes and maintenance windows. */
#[IsGranted('ROLE_VIEWER')]
final readonly class MuteApi
{
    public function __construct(private KeptMuteRepository $mutes, private MuteKeeping $keeping, private MuteView $view)
    {
    }

    #[Route('/api/mutes', methods: ['GET'])]
    public function mutes(): JsonResponse
    {
        return new JsonResponse($this->view->page());
    }

    /** @throws Problem naming the field */
    #[Route('/api/mutes', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function set(#[Body] MuteFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->view->shown($this->keeping->set($fields, $self)), 201);
    }

    /** @throws Problem naming the field */
    #[Route('/api/mutes/matched', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function matched(#[Body] MatchFields $fields): JsonResponse
    {
        return new JsonResponse($this->view->matched($fields->matching));
    }

    /** @throws Problem 404, 409; 422 naming the field */
    #[Route('/api/mutes/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, #[Body] MuteFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $mute = $this->mutes->there($id);
        $this->keeping->change($mute, $fields, $self, $this->view->shown($mute));

        return new JsonResponse($this->view->page());
    }

    /** @throws Problem 404; 409 where it is over already */
    #[Route('/api/mutes/{id<\d{1,9}>}/end', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function end(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->keeping->end($this->mutes->there($id), $self);

        return new JsonResponse($this->view->page());
    }
}
