<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Definition\AcknowledgeFields;
use Olivine\App\Delivery\Definition\AssignFields;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\AnswerKind;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Twig\Environment;

/** The page behind the link in a message. Opening it changes nothing, as mail scanners open links; its button does. */
final readonly class ActPage
{
    /** For how long one may take it there, beside until it is over. */
    private const MINUTES = [30, 120, 480];
    private const HOW = 'from the message';
    private const LONGEST_NOTE = 1_000;

    public function __construct(
        private ActLinks $links,
        private EntityManagerInterface $entities,
        private IncidentActions $actions,
        private PersonRepository $people,
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
    public function answer(string $token, Request $request): Response
    {
        $kind = AnswerKind::tryFrom($request->request->getString('answer', AnswerKind::Acknowledge->value));

        return $this->page($token, fn(Incident $incident, Person $person): string => match ($kind) {
            AnswerKind::Take => $this->take($incident, $person),
            AnswerKind::Cannot => $this->cannot($incident, $person),
            AnswerKind::HandOver => $this->handOver($incident, $person, $request->request->getInt('to')),
            AnswerKind::Note => $this->note($incident, $person, $request->request->getString('note')),
            AnswerKind::Acknowledge, null => $this->acknowledge($incident, $person, $request->request->getInt('for')),
        });
    }

    private function acknowledge(Incident $incident, Person $person, int $minutes): string
    {
        $fields = new AcknowledgeFields(in_array($minutes, self::MINUTES, true) ? 60 * $minutes : null);

        return $this->actions->acknowledgeIfOpen($incident, $person, self::HOW, $fields) ? 'Nobody else will be woken for it.' : '';
    }

    /** @throws Problem */
    private function take(Incident $incident, Person $person): string
    {
        $this->actions->assign($incident, $person, $person, new AssignFields($person->id(), self::HOW));

        return 'It is yours.';
    }

    /** @throws Problem */
    private function handOver(Incident $incident, Person $person, int $to): string
    {
        $other = $this->people->find($to);
        if ($other === null) {
            return 'Say whose it is from now on.';
        }
        $this->actions->assign($incident, $other, $person, new AssignFields($to, self::HOW));

        return "It is {$other->name}'s, who is told.";
    }

    /** @throws Problem */
    private function cannot(Incident $incident, Person $person): string
    {
        $this->actions->cannot($incident, $person, self::HOW);

        return 'Noted: you cannot see to it. The next rung is climbed at once.';
    }

    private function note(Incident $incident, Person $person, string $note): string
    {
        $note = mb_substr(OneLine::of(mb_scrub(trim($note))), 0, self::LONGEST_NOTE);
        if ($note === '') {
            return 'There is nothing written yet.';
        }
        $this->actions->note($incident, $person, $note . ' (' . self::HOW . ')');

        return 'Noted.';
    }

    /**
     * It may be over by now, or stand otherwise than when the page was opened: that is said.
     *
     * @param \Closure(Incident, Person): string $answer
     */
    private function said(\Closure $answer, Incident $incident, Person $person): string
    {
        try {
            return $answer($incident, $person);
        } catch (Problem $problem) {
            return "{$problem->getMessage()}.";
        }
    }

    /** @return list<Person> to whom it may be given */
    private function others(Person $self): array
    {
        $may = static fn(Person $one): bool => $one !== $self && $one->mayAct() && $one->role !== Role::Viewer;

        return array_values(array_filter($this->people->byName(), $may));
    }

    /** @param (\Closure(Incident, Person): string)|null $answer does it, and says what it did */
    private function page(string $token, ?\Closure $answer): Response
    {
        $opened = $this->links->open($token, $this->clock->now());
        $incident = $opened === null ? null : $this->entities->find(Incident::class, $opened[0]);
        $person = $opened === null ? null : $this->entities->find(Person::class, $opened[1]);
        $said = '';
        if ($answer !== null && $incident !== null && $person !== null) {
            $said = $this->said($answer, $incident, $person);
        }
        $by = $incident?->acknowledgedBy === null ? null : $this->entities->find(Person::class, $incident->acknowledgedBy);

        return new Response(
            $this->twig->render('act/page.html.twig', [
                'incident' => $incident,
                'person' => $person,
                'by' => $by,
                'said' => $said,
                'mine' => $person !== null && $incident?->acknowledgedBy === $person->id,
                'others' => $person === null || $incident === null ? [] : $this->others($person),
                'minutes' => self::MINUTES,
                'until' => $incident?->heldUntil?->in($this->settings->zone())->format('H:i'),
            ]),
            $incident === null ? 404 : 200,
            ['Cache-Control' => 'no-store', 'Referrer-Policy' => 'no-referrer', 'X-Robots-Tag' => 'noindex'],
        );
    }
}
