<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Channel\Carrying;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\HourlyMost;
use Olivine\Core\Delivery\StormRate;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Keeps what can wait from being one of too many in an hour, and anything from being one of too many in a minute: it waits, the trail
 * says so, and it is told together with others.
 */
final readonly class Withholding
{
    private const HOUR_MINUTES = 60;

    public function __construct(
        private Database $database,
        private EntityManagerInterface $entities,
        private DeliveryRepository $deliveries,
        private Trail $trail,
        private Settings $settings,
    ) {
    }

    /** @return bool whether it waits from now on */
    public function withholds(Delivery $delivery, string $name, Carrying $carrying, Instant $now): bool
    {
        $incident = $delivery->withheldAt === null && !$delivery->rehearsed ? $this->entities->find(Incident::class, $delivery->incidentId) : null;
        $storm = $incident === null || !$carrying->together ? null : $this->storm($delivery, $now);
        $waits = $storm ?? ($incident === null ? null : $this->oneOfTooMany($delivery, $incident, $now));
        if ($waits === null) {
            return false;
        }
        [$until, $why] = $waits;
        $words = sprintf(
            '%s: %s to %s is withheld: %s; it is told with others in %s',
            Outcomes::label($delivery),
            $delivery->channel,
            $name,
            $why,
            $until->since($now)->words(),
        );
        $this->database->transaction(function () use ($delivery, $now, $until, $why, $words): void {
            $this->deliveries->withhold($delivery, $now, $until, "withheld: {$why}");
            $this->trail->add($delivery->incidentId, $now, TrailKind::HeldBack, $words, "withheld {$delivery->id()}");
        });

        return true;
    }

    /** @return array{Instant, string}|null until when it waits, and why */
    private function storm(Delivery $delivery, Instant $now): ?array
    {
        $rate = new StormRate($this->settings->mostAMinute());
        if ($rate->mostAMinute === 0) {
            return null;
        }
        $sent = $this->deliveries->sentTo($delivery->personId, $delivery->channel, StormRate::since($now));
        $until = $rate->until($delivery->kind, $sent);

        return $until === null ? null : [$until->later($now), sprintf('a storm, %d were sent within a minute', count($sent))];
    }

    /** @return array{Instant, string}|null until when it waits, and why */
    private function oneOfTooMany(Delivery $delivery, Incident $incident, Instant $now): ?array
    {
        $most = new HourlyMost($this->settings->mostAnHour());
        if (!$most->withholds($delivery->kind, $delivery->round, $incident->severity, PHP_INT_MAX)) {
            return null;
        }
        $sent = $this->deliveries->sentTo($delivery->personId, $delivery->channel, $now->minus(Duration::ofMinutes(self::HOUR_MINUTES)));
        if (!$most->withholds($delivery->kind, $delivery->round, $incident->severity, count($sent))) {
            return null;
        }

        return [$sent[$most->most - 1]->plus(Duration::ofMinutes(self::HOUR_MINUTES)), sprintf('%d were sent within an hour', count($sent))];
    }
}
