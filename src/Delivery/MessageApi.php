<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\TrailKind;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** What somebody was told, by which channel, and what became of each message. */
#[IsGranted('ROLE_VIEWER')]
final readonly class MessageApi
{
    public function __construct(
        private MessageView $view,
        private DeliveryRepository $deliveries,
        private EntityManagerInterface $entities,
        private Trail $trail,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/messages', methods: ['GET'])]
    public function messages(Request $request): JsonResponse
    {
        $asked = $request->query;

        return new JsonResponse($this->view->page(
            $asked->has('person') ? $asked->getInt('person') : null,
            $asked->getString('channel') === '' ? null : $asked->getString('channel'),
            $asked->has('before') ? $asked->getInt('before') : null,
        ));
    }

    /**
     * What was given up is sent once more: under the key that it had.
     *
     * @throws Problem 404, or 409 where it was not given up
     */
    #[Route('/api/messages/{id<\d{1,18}>}/again', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function again(int $id, #[CurrentUser] Person $person): JsonResponse
    {
        $delivery = $this->deliveries->find($id) ?? throw new Problem(404, "There is no message {$id}");
        $now = $this->clock->now();
        if (!$this->deliveries->again($delivery, $now)) {
            throw new Problem(409, "The message was not given up: it is {$delivery->status->value}");
        }
        $words = sprintf('%s: %s lets it be sent again by %s', Outcomes::label($delivery), $person->name, $delivery->channel);
        $this->trail->add($delivery->incidentId, $now, TrailKind::Person, $words);
        $this->audit->record('sent again', "incident {$delivery->incidentId}", null, ['message' => $delivery->messageKey], $person);
        $this->entities->flush();

        return new JsonResponse(null, 204);
    }
}
