<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\SetAside;
use Olivine\App\Watch\Definition\AsideItem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** What a part set aside is taken off Watch by whoever has seen it; what comes up again is there again. */
final readonly class AsideApi
{
    public function __construct(private SetAside $aside, private Audit $audit)
    {
    }

    #[Route('/api/set-aside/seen', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function seen(#[Body] AsideItem $item): JsonResponse
    {
        if (!$this->aside->seen($item->part, $item->subject)) {
            throw new Problem(404, 'This is not set aside any more');
        }
        $this->audit->record('saw', mb_substr("set aside by the {$item->part}: {$item->subject}", 0, 120), null, null);

        return new JsonResponse(null, 204);
    }
}
