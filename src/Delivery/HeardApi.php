<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\HeardFields;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Repository\RuleRepository;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Who heard of an alert of the past, or why nobody did. */
#[IsGranted('ROLE_VIEWER')]
final readonly class HeardApi
{
    public function __construct(private RuleRepository $rules, private WhoHeardThen $heard)
    {
    }

    /** @throws Problem 404 */
    #[Route('/api/rules/{id<\d{1,9}>}/heard', methods: ['POST'])]
    public function heard(int $id, #[Body] HeardFields $fields): JsonResponse
    {
        return new JsonResponse($this->heard->of($this->rules->there($id), $fields));
    }
}
