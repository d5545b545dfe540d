<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\SetAside;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** What a part set aside is taken off Watch by whoever has seen it; what comes up again is there again. */
final readonly class AsideApi
{
    private const LONGEST = 190;

    public function __construct(private SetAside $aside, private Audit $audit)
    {
    }

    #[Route('/api/set-aside/seen', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function seen(Request $request): JsonResponse
    {
        $input = Input::of($request)->onlyKnows(['part', 'subject']);
        $part = $input->text('part', self::LONGEST, shortest: 1);
        $subject = $input->text('subject', self::LONGEST, shortest: 1);
        if (!$this->aside->seen($part, $subject)) {
            throw new Problem(404, 'This is not set aside any more');
        }
        $this->audit->record('saw', mb_substr("set aside by the {$part}: {$subject}", 0, 120), null, null);

        return new JsonResponse(null, 204);
    }
}
