<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\PastIncident;
use Olivine\App\Delivery\Answer\PastPage;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\Core\Rule\Severity;

/** What was, by words, service and severity, a page at a time. */
final readonly class PastIncidents
{
    private const A_PAGE = 50;

    public function __construct(private IncidentRepository $incidents, private IncidentAlertRepository $alerts, private IncidentView $view)
    {
    }

    /**
     * @param string   $words  all of which its title, service or number must have
     * @param int|null $before only those that opened before this one did
     */
    public function page(string $words, ?Severity $severity, ?int $before): PastPage
    {
        $found = $this->incidents->searched($words, $severity, $before, self::A_PAGE + 1);
        $shown = array_slice($found, 0, self::A_PAGE);
        $counts = $this->alerts->countsOf(array_map(static fn(Incident $one): int => $one->id(), $shown));

        return new PastPage(
            array_map(fn(Incident $one): PastIncident => new PastIncident($this->view->head($one), $counts[$one->id()] ?? 0), $shown),
            count($found) > self::A_PAGE ? $shown[self::A_PAGE - 1]->id() : null,
        );
    }
}
