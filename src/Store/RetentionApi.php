<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Platform\WorkedOut;
use Olivine\App\Store\Answer\KeptTier;
use Olivine\App\Store\Answer\Retention as ShownRetention;
use Olivine\App\Store\Definition\RetentionDays;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/**
 * How long readings and roll-ups are kept, what that costs, and what another choice would drop.
 *
 * @phpstan-import-type Sizes from StoreSizes
 */
#[IsGranted('ROLE_VIEWER')]
final readonly class RetentionApi
{
    public function __construct(
        private Retention $retention,
        private WorkedOut $workedOut,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/retention', methods: ['GET'])]
    public function kept(Request $request): JsonResponse
    {
        $days = $this->retention->days();
        /** @var Sizes $sizes */
        $sizes = $this->workedOut->of(StoreSizes::NAME);
        $tiers = [];
        $ask = static fn(RetentionTier $tier): int => max(
            1,
            min(RetentionDays::MOST_DAYS, $request->query->getInt($tier->value, $days[$tier->value])),
        );
        foreach (RetentionTier::cases() as $tier) {
            $asked = $ask($tier);
            $cost = LetGo::outlook($sizes['tiers'][$tier->value], $asked, $this->clock->now()->ms);
            $whenFull =
                $tier === RetentionTier::FiveMinutes
                    ? $this->fiveMinutesWhenFull(
                        $sizes['tiers'][$tier->value],
                        $sizes['laterFold'],
                        $asked,
                        $ask(RetentionTier::Readings),
                    )
                    : $cost['bytesADay'] * $asked;
            $tiers[] = new KeptTier(
                ...['name' => $tier->value, 'bytesWhenFull' => $whenFull, 'days' => $days[$tier->value]] + $cost,
            );
        }

        return new JsonResponse(new ShownRetention(freshBytes: $sizes['freshBytes'], tiers: $tiers));
    }

    #[Route('/api/retention', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function keep(#[Body] RetentionDays $fields): JsonResponse
    {
        $before = $this->retention->days();
        $days = $fields->over($before);
        if ($days['fiveMinutes'] < $days['readings'] || $days['hours'] < $days['fiveMinutes']) {
            throw Problem::field(
                $days['fiveMinutes'] < $days['readings'] ? 'fiveMinutes' : 'hours',
                'A coarser tier must be kept at least as long as a finer one',
            );
        }
        Versions::holdValues($fields->was, $before);
        $this->retention->keep($days);
        $this->audit->record('changed', 'retention', $before, $days);

        return $this->kept(new Request());
    }

    /**
     * A day takes more from when on its readings are let go; both kinds may be among those that are there.
     *
     * @param array{partitions: list<array{bytes: int}>, fromMs: int, coveredDays: int} $sizes
     */
    private function fiveMinutesWhenFull(array $sizes, float $fold, int $days, int $withReadings): int
    {
        $late = max(
            0,
            min(
                $sizes['coveredDays'],
                intdiv($this->retention->letGoBefore(RetentionTier::Readings) - $sizes['fromMs'], Span::DAY_MS),
            ),
        );
        $early = array_sum(array_column($sizes['partitions'], 'bytes')) / max(1, $sizes['coveredDays'] - $late + $late * $fold);

        return (int) ($early * (min($days, $withReadings) + max(0, $days - $withReadings) * $fold));
    }
}
