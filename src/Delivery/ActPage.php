<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Twig\Environment;

/** The page behind the link in a message. Opening it changes nothing, as mail scanners open links; its button does. */
final readonly class ActPage
{
    public function __construct(
        private ActLinks $links,
        private EntityManagerInterface $entities,
        private IncidentActions $actions,
        private Environment $twig,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/act/{token}', requirements: ['token' => '[A-Za-z0-9_-]{20,64}'], methods: ['GET'])]
    public function show(string $token): Response
    {
        return $this->page($token, false);
    }

    #[Route('/act/{token}', requirements: ['token' => '[A-Za-z0-9_-]{20,64}'], methods: ['POST'])]
    #[AsAWhole]
    public function acknowledge(string $token): Response
    {
        return $this->page($token, true);
    }

    private function page(string $token, bool $act): Response
    {
        $opened = $this->links->open($token, $this->clock->now());
        $incident = $opened === null ? null : $this->entities->find(Incident::class, $opened[0]);
        $person = $opened === null ? null : $this->entities->find(Person::class, $opened[1]);
        if ($act && $incident !== null && $person !== null) {
            $this->actions->acknowledgeIfOpen($incident, $person, 'from the message');
        }
        $by = $incident?->acknowledgedBy === null ? null : $this->entities->find(Person::class, $incident->acknowledgedBy);

        return new Response(
            $this->twig->render('act/page.html.twig', [
                'incident' => $incident,
                'person' => $person,
                'by' => $by,
                'done' => $act,
            ]),
            $incident === null ? 404 : 200,
            ['Cache-Control' => 'no-store', 'Referrer-Policy' => 'no-referrer', 'X-Robots-Tag' => 'noindex'],
        );
    }
}
