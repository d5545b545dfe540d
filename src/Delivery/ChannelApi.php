<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** The ways to reach people, how they do, and what was given up. */
#[IsGranted('ROLE_VIEWER')]
final readonly class ChannelApi
{
    public function __construct(private ChannelView $view)
    {
    }

    #[Route('/api/channels', methods: ['GET'])]
    public function channels(): JsonResponse
    {
        return new JsonResponse($this->view->all());
    }
}
