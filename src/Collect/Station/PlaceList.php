<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

use Olivine\App\Collect\Answer\Place as ShownPlace;
use Olivine\App\Collect\Answer\Places;
use Olivine\App\Collect\Answer\ShownStationToken;
use Olivine\App\Collect\Answer\StationLoad;
use Olivine\App\Collect\Check\Outages;
use Olivine\App\Collect\Entity\Place;
use Olivine\App\Collect\Entity\StationToken;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\PlaceRepository;
use Olivine\App\Collect\Repository\StationTokenRepository;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\Settings;

/** Places as the screens show them. */
final readonly class PlaceList
{
    public function __construct(
        private PlaceRepository $places,
        private StationTokenRepository $tokens,
        private TargetRepository $targets,
        private Outages $outages,
        private StationOrders $orders,
        private Arrivals $arrivals,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    public function all(): Places
    {
        $checks = $this->targets->checks();
        $cutOff = $this->outages->byPlace();

        return new Places(
            array_map(fn(Place $place): ShownPlace => $this->one($place, $checks, $cutOff[$place->id()] ?? null), $this->places->there()),
            array_map(static fn(StationToken $token): ShownStationToken => self::token($token), $this->tokens->valid($this->clock->now())),
            $this->settings->publicUrl(),
        );
    }

    /** @param string|null $told the token itself, as it is made */
    public static function token(StationToken $token, #[\SensitiveParameter] ?string $told = null): ShownStationToken
    {
        return new ShownStationToken(
            id: $token->id(),
            name: $token->name,
            names: $token->names,
            checks: $token->checks,
            most: $token->most,
            used: $token->used,
            endsAt: $token->endsAt->ms,
            token: $told,
        );
    }

    /** @param list<Target> $checks */
    private function one(Place $place, array $checks, ?int $cutOffSince): ShownPlace
    {
        $ofPlace = array_filter($checks, static fn(Target $check): bool => in_array($place->id(), $check->places, true));
        $references = array_filter($ofPlace, static fn(Target $check): bool => $check->isReference);
        $isCentre = $place->id() === Place::CENTRE;

        return new ShownPlace(
            id: $place->id(),
            name: $place->name,
            isCentre: $isCentre,
            seenAt: $place->seenAt?->ms,
            isSilent: !$isCentre && ($place->seenAt === null || $this->clock->now()->since($place->seenAt)->ms > Outages::SILENT_MS),
            checks: count($ofPlace),
            references: array_values(array_map(static fn(Target $check): string => $check->name, $references)),
            cutOffSince: $cutOffSince,
            load: $isCentre ? null : $this->load($place),
        );
    }

    private function load(Place $place): StationLoad
    {
        $figures = $place->figures ?? [];
        $number = static fn(string $name): ?float => is_numeric($figures[$name] ?? null) ? Scalar::float($figures[$name]) : null;

        return new StationLoad(
            waiting: (int) $number('waiting') + $this->arrivals->waiting($place->id()),
            lost: (int) $number('lost'),
            lateMs: (int) $number('lateMs'),
            askedAMinute: $number('askedAMinute'),
            busyShare: $number('busyShare'),
            room: $number('room') === null ? null : (int) $number('room'),
            clockAheadMs: (int) $number('clockAheadMs'),
            revision: $this->orders->revision($place->id()),
        );
    }
}
