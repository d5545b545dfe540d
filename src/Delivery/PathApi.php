<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\TryFields;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Who answers for what, and what would become of an alert. */
#[IsGranted('ROLE_VIEWER')]
final readonly class PathApi
{
    public function __construct(private PathView $view)
    {
    }

    #[Route('/api/paths', methods: ['GET'])]
    public function paths(): JsonResponse
    {
        return new JsonResponse($this->view->all());
    }

    /** @throws Problem naming the field that cannot be so */
    #[Route('/api/paths/try', methods: ['POST'])]
    public function try(#[Body] TryFields $fields): JsonResponse
    {
        return new JsonResponse($this->view->tried($fields));
    }
}
