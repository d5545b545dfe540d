<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\MessagePage;
use Olivine\App\Delivery\Answer\ShownMessage;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\People\Repository\PersonRepository;

/** Messages as people see them, by person and by channel. */
final readonly class MessageView
{
    private const A_PAGE = 100;

    public function __construct(private DeliveryRepository $deliveries, private IncidentRepository $incidents, private PersonRepository $people)
    {
    }

    /** @param int|null $before only those that are older than this one */
    public function page(?int $person, ?string $channel, ?int $before): MessagePage
    {
        $found = $this->deliveries->newest($person, $channel, $before, self::A_PAGE + 1);
        $shown = array_slice($found, 0, self::A_PAGE);
        $incidents = [];
        foreach ($this->incidents->findBy(['id' => array_values(array_unique(array_column($shown, 'incidentId')))]) as $incident) {
            $incidents[$incident->id()] = $incident;
        }
        $names = $this->people->names();
        $messages = [];
        foreach ($shown as $one) {
            // An incident that is past what is kept takes what was told of it along.
            if (isset($incidents[$one->incidentId])) {
                $messages[] = self::shown($one, $incidents[$one->incidentId], $names[$one->personId] ?? null);
            }
        }

        return new MessagePage($messages, count($found) > self::A_PAGE ? $shown[self::A_PAGE - 1]->id() : null);
    }

    private static function shown(Delivery $one, Incident $of, ?string $person): ShownMessage
    {
        return new ShownMessage(
            id: $one->id(),
            incident: $of->id(),
            title: $of->title,
            severity: $of->severity,
            of: Outcomes::label($one),
            person: $person,
            channel: $one->channel,
            dueAt: $one->dueAt,
            status: $one->status,
            attempts: $one->attempts,
            nextAt: $one->nextAt,
            sentAt: $one->sentAt,
            heldBack: $one->withheldAt,
            answer: $one->answer,
            key: $one->messageKey,
            rehearsed: $one->rehearsed,
        );
    }
}
