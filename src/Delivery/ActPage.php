<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Definition\AcknowledgeFields;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Settings;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Twig\Environment;

/** The page behind the link in a message. Opening it changes nothing, as mail scanners open links; its button does. */
final readonly class ActPage
{
    /** For how long one may take it there, beside until it is over. */
    private const MINUTES = [30, 120, 480];

    public function __construct(
        private ActLinks $links,
        private EntityManagerInterface $entities,
        private IncidentActions $actions,
        private Environment $twig,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/act/{token}', requirements: ['token' => '[A-Za-z0-9_-]{20,64}'], methods: ['GET'])]
    public function show(string $token): Response
    {
        return $this->page($token, null);
    }

    #[Route('/act/{token}', requirements: ['token' => '[A-Za-z0-9_-]{20,64}'], methods: ['POST'])]
    #[AsAWhole]
    public function acknowledge(string $token, Request $request): Response
    {
        $minutes = $request->request->getInt('for');

        return $this->page($token, new AcknowledgeFields(in_array($minutes, self::MINUTES, true) ? 60 * $minutes : null));
    }

    private function page(string $token, ?AcknowledgeFields $act): Response
    {
        $opened = $this->links->open($token, $this->clock->now());
        $incident = $opened === null ? null : $this->entities->find(Incident::class, $opened[0]);
        $person = $opened === null ? null : $this->entities->find(Person::class, $opened[1]);
        if ($act !== null && $incident !== null && $person !== null) {
            $this->actions->acknowledgeIfOpen($incident, $person, 'from the message', $act);
        }
        $by = $incident?->acknowledgedBy === null ? null : $this->entities->find(Person::class, $incident->acknowledgedBy);

        return new Response(
            $this->twig->render('act/page.html.twig', [
                'incident' => $incident,
                'person' => $person,
                'by' => $by,
                'done' => $act !== null,
                'minutes' => self::MINUTES,
                'until' => $incident?->heldUntil?->in($this->settings->zone())->format('H:i'),
            ]),
            $incident === null ? 404 : 200,
            ['Cache-Control' => 'no-store', 'Referrer-Policy' => 'no-referrer', 'X-Robots-Tag' => 'noindex'],
        );
    }
}
