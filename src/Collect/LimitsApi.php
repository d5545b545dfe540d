<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Answer\TargetLimit as ShownLimit;
use Olivine\App\Collect\Definition\LimitFields;
use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Symfony\Component\HttpFoundation\JsonResponse;
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
                static fn(TargetLimit $limit): ShownLimit => new ShownLimit(
                    name: $limit->value,
                    least: $limit->range()[0],
                    most: $limit->range()[1],
                    usual: $limit->usual(),
                    value: $values[$limit->value],
                    words: $limit->words(),
                ),
                TargetLimit::cases(),
            ),
        );
    }

    #[Route('/api/limits', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function change(#[Body] LimitFields $fields): JsonResponse
    {
        $before = $this->limits->values();
        $values = $fields->over($before);
        if ($values[TargetLimit::SeriesEver->value] < $values[TargetLimit::SeriesAScrape->value]) {
            throw Problem::field(
                TargetLimit::SeriesEver->value,
                'A target must be allowed at least as many series ever as in one scrape',
            );
        }
        Versions::holdValues($fields->was, $before);
        $this->limits->keep($values);
        $this->audit->record('changed', 'limits', $before, $values);

        return $this->limits();
    }
}
