<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Olivine\App\Delivery\SharedLook;
use Olivine\App\Platform\Clock;
use Olivine\Core\Time\Duration;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** All that Watch shows, in one answer. */
#[IsGranted('ROLE_VIEWER')]
final readonly class WatchApi
{
    private const MOST_BACK = 24 * 14;
    private const MOST_AHEAD = 24 * 7;
    /** The hours that the page lets one choose. */
    private const OFFERED_BACK = [6, 24, 72, 168, 336];
    private const OFFERED_AHEAD = [4, 24];

    public function __construct(private Sight $sight, private SharedLook $shared, private Clock $clock = new Clock())
    {
    }

    #[Route('/api/watch', methods: ['GET'])]
    public function watch(Request $request): JsonResponse
    {
        $now = $this->clock->now();
        $back = max(1, min(self::MOST_BACK, $request->query->getInt('back', 6)));
        $ahead = max(1, min(self::MOST_AHEAD, $request->query->getInt('ahead', 4)));
        $look = fn(): object => $this->sight->at(
            $now,
            $now->minus(Duration::ofHours($back)),
            $now->plus(Duration::ofHours($ahead)),
        );

        // Spans of somebody's own are shared with nobody, and kept nowhere.
        return in_array($back, self::OFFERED_BACK, true) && in_array($ahead, self::OFFERED_AHEAD, true)
            ? JsonResponse::fromJsonString($this->shared->of("watch.{$back}.{$ahead}", $look))
            : new JsonResponse($look());
    }
}
