<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** What a target may bring: read by all, set by administrators. */
#[IsGranted('ROLE_VIEWER')]
final readonly class LimitsApi
{
    public function __construct(private TargetLimits $limits, private Audit $audit)
    {
    }

    #[Route('/api/limits', methods: ['GET'])]
    public function limits(): JsonResponse
    {
        $values = $this->limits->values();

        return new JsonResponse(
            array_map(
                static fn(TargetLimit $limit): array => [
                    'name' => $limit->value,
                    'words' => $limit->words(),
                    'value' => $values[$limit->value],
                    'usual' => $limit->usual(),
                    'least' => $limit->range()[0],
                    'most' => $limit->range()[1],
                ],
                TargetLimit::cases(),
            ),
        );
    }

    #[Route('/api/limits', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function change(Request $request): JsonResponse
    {
        $input = Input::of($request)->onlyKnows([...array_column(TargetLimit::cases(), 'value'), 'was']);
        $before = $this->limits->values();
        $values = [];
        foreach (TargetLimit::cases() as $limit) {
            $values[$limit->value] = $input->whole($limit->value, ...[...$limit->range(), $before[$limit->value]]);
        }
        if ($values[TargetLimit::SeriesEver->value] < $values[TargetLimit::SeriesAScrape->value]) {
            throw Problem::field(
                TargetLimit::SeriesEver->value,
                'A target must be allowed at least as many series ever as in one scrape',
            );
        }
        Versions::holdValues($input, $before);
        $this->limits->keep($values);
        $this->audit->record('changed', 'limits', $before, $values);

        return $this->limits();
    }
}
