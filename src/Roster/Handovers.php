<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\IncidentView;
use Olivine\App\Delivery\Letters;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Platform\Versions;
use Olivine\App\Roster\Answer\ShownHandover;
use Olivine\App\Roster\Definition\HandoverFields;
use Olivine\App\Roster\Entity\HandoverNote;
use Olivine\App\Roster\Entity\KeptRoster;
use Olivine\App\Roster\Repository\HandoverNoteRepository;
use Olivine\App\Roster\Repository\RosterRepository;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What is handed over when a shift ends: a note, and what is open; it is sent to whoever takes over as their shift begins. */
final readonly class Handovers
{
    /** A shift that began longer ago than this while nothing ran is told of no more. */
    private const LATEST_MINUTES = 60;
    private const MOST_OPEN = 20;

    public function __construct(
        private EntityManagerInterface $entities,
        private HandoverNoteRepository $notes,
        private RosterRepository $rosters,
        private KeptRosters $kept,
        private IncidentRepository $incidents,
        private IncidentView $view,
        private PersonRepository $people,
        private Letters $letters,
        private Settings $settings,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    public function shown(KeptRoster $roster): ShownHandover
    {
        $now = $this->clock->now();
        $note = $this->notes->of($roster->id());
        $next = $this->next($this->kept->since($now)->named($roster->name), $now);

        return new ShownHandover(
            text: $note?->text,
            by: $note === null ? null : $this->view->name($note->personId),
            at: $note?->at,
            version: $note?->version,
            to: $next?->person === null ? null : $this->view->name($next->person),
            goesAt: $next->from ?? $now,
            open: array_map($this->view->head(...), $this->open()),
        );
    }

    /** @throws Problem 409 where somebody changed it since it was read */
    public function write(KeptRoster $roster, HandoverFields $fields, Person $by): void
    {
        $note = $this->notes->of($roster->id());
        $before = $note->text ?? '';
        if ($note === null) {
            $note = new HandoverNote($roster->id(), $fields->text, $by->id(), $this->clock->now());
            $this->entities->persist($note);
        } else {
            Versions::hold($fields->version, $note->version, $this->shown($roster));
            $note->text = $fields->text;
            $note->personId = $by->id();
            $note->at = $this->clock->now();
        }
        $this->entities->flush();
        $this->audit->record('wrote the handover note of', "roster {$roster->name}", ['text' => $before], ['text' => $fields->text]);
    }

    /** Whoever's shift began a short while ago is told what is handed over; each shift once. */
    public function tellDue(): void
    {
        $now = $this->clock->now();
        $since = $now->minus(Duration::ofMinutes(self::LATEST_MINUTES));
        $rosters = $this->kept->since($since);
        foreach ($this->rosters->inOrder() as $roster) {
            $shifts = $rosters->named($roster->name)?->shifts($since, $now) ?? [];
            foreach ($shifts as $i => $shift) {
                $before = $shifts[$i - 1] ?? null;
                if ($before !== null && $shift->person !== null && $before->person !== $shift->person) {
                    $this->tell($roster, $before, $shift);
                }
            }
        }
    }

    private function tell(KeptRoster $roster, Shift $before, Shift $shift): void
    {
        $person = $this->people->find((int) $shift->person);
        $note = $this->notes->of($roster->id());
        $open = $this->open();
        // A shift with nothing to say of it begins without a mail.
        if ($person === null || ($open === [] && ($note === null || $note->text === ''))) {
            return;
        }
        $from = $before->person === null ? 'nobody' : $this->view->name($before->person);
        $zone = $this->settings->zone();
        $lines = ["You are on call by the roster {$roster->name} since {$shift->from->in($zone)->format('D j M H:i')}, after {$from}.", ''];
        if ($note !== null && $note->text !== '') {
            array_push($lines, "{$this->view->name($note->personId)} wrote at {$note->at->in($zone)->format('D j M H:i')}:", '', $note->text, '');
        }
        $lines[] = $open === [] ? 'Nothing is open.' : sprintf('%d open:', count($open));
        foreach (array_slice($open, 0, self::MOST_OPEN) as $incident) {
            $has = $incident->status === IncidentStatus::Acknowledged ? ", {$this->view->name($incident->acknowledgedBy)} has it" : ', nobody has it';
            $lines[] = "- {$incident->severity->value}: {$incident->title}{$has}";
            $lines[] = "  {$this->settings->publicUrl()}/incidents/{$incident->id()}";
        }
        $subject = "You are on call: {$roster->name}" . ($open === [] ? '' : sprintf(', %d open', count($open)));
        $this->letters->post($person->id(), $subject, implode("\n", $lines) . "\n", "handover-{$roster->id()}.{$shift->from->ms}.{$person->id()}");
    }

    /** @return list<Incident> that are not over */
    private function open(): array
    {
        return $this->incidents->notOver();
    }

    private function next(?RosterHistory $history, Instant $now): ?Shift
    {
        $here = $history?->touching($now, $now->plus(Duration::ofMs(1)))[0] ?? null;

        return $history === null || $here === null ? null : $history->touching($here->to, $here->to->plus(Duration::ofMs(1)))[0] ?? null;
    }
}
