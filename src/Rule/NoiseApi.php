<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

#[IsGranted('ROLE_VIEWER')]
final readonly class NoiseApi
{
    public function __construct(private NoiseView $view)
    {
    }

    /** @throws Problem where too much is under way already */
    #[Route('/api/noise', methods: ['GET'])]
    public function noise(): JsonResponse
    {
        return new JsonResponse($this->view->now());
    }
}
