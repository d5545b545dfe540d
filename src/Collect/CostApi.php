<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Platform\WorkedOut;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

#[IsGranted('ROLE_VIEWER')]
final readonly class CostApi
{
    public function __construct(private WorkedOut $workedOut)
    {
    }

    #[Route('/api/cost', methods: ['GET'])]
    public function cost(): JsonResponse
    {
        return JsonResponse::fromJsonString($this->workedOut->json(Cost::NAME));
    }
}
