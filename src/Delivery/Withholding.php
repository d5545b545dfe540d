<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\HourlyMost;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Keeps what can wait from being one of too many in an hour: it waits, the trail says so, and it is told together with others. */
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
    public function withholds(Delivery $delivery, string $name, Instant $now): bool
    {
        $most = new HourlyMost($this->settings->mostAnHour());
        $incident = $delivery->withheldAt === null ? $this->entities->find(Incident::class, $delivery->incidentId) : null;
        if ($incident === null || !$most->withholds($delivery->kind, $delivery->round, $incident->severity, PHP_INT_MAX)) {
            return false;
        }
        $sent = $this->deliveries->sentTo($delivery->personId, $delivery->channel, $now->minus(Duration::ofMinutes(self::HOUR_MINUTES)));
        if (!$most->withholds($delivery->kind, $delivery->round, $incident->severity, count($sent))) {
            return false;
        }
        $until = $sent[$most->most - 1]->plus(Duration::ofMinutes(self::HOUR_MINUTES));
        $words = sprintf(
            '%s: %s to %s is withheld: %d were sent within an hour; it is told with others in %s',
            Outcomes::label($delivery),
            $delivery->channel,
            $name,
            count($sent),
            $until->since($now)->words(),
        );
        $this->database->transaction(function () use ($delivery, $now, $until, $words): void {
            $this->deliveries->withhold($delivery, $now, $until);
            $this->trail->add($delivery->incidentId, $now, TrailKind::HeldBack, $words, "withheld {$delivery->id()}");
        });

        return true;
    }
}
