<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Channel\ChannelKind;
use Olivine\App\Delivery\Definition\AcknowledgeFields;
use Olivine\App\Delivery\Definition\ArrivedAnswer;
use Olivine\App\Delivery\Definition\AssignFields;
use Olivine\App\Delivery\Definition\ContactKind;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Delivery\Repository\ContactMethodRepository;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\AnswerKind;
use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Delivery\Reply;

/**
 * What people answer from where they were reached: a text, a key in a call, a button in a chat. Who answers is whoever verified that
 * number or name; an answer that arrives twice is done once, and the same is said to it.
 */
final readonly class Answers
{
    private const LONGEST_SAID = 300;
    private const MOST_LISTED = 3;
    private const NOT_KNOWN = 'Olivine does not know who you are: nobody verified this as a way to reach them.';
    private const HELP = 'Olivine understands: ok, take, no, give NAME, note WORDS; each with the three letters of the message.';

    public function __construct(
        private Database $database,
        private EntityManagerInterface $entities,
        private ContactMethodRepository $contacts,
        private DeliveryRepository $deliveries,
        private PersonRepository $people,
        private AnswerCodes $codes,
        private IncidentActions $actions,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @return string what is said to whoever answered; within the transaction of whoever asks */
    public function arrived(KeptChannel $channel, ArrivedAnswer $answer): string
    {
        $key = [$channel->name, $answer->id];
        $this->database->connection->executeStatement(
            "INSERT IGNORE INTO answer_given (channel, reply_id, said, at) VALUES (?, ?, '', ?)",
            [...$key, $this->clock->now()->ms],
        );
        $said = $this->database->connection->fetchOne('SELECT said FROM answer_given WHERE channel = ? AND reply_id = ? FOR UPDATE', $key);
        if ($said !== '') {
            return Scalar::text($said);
        }
        $said = mb_substr($this->done($channel, $answer), 0, self::LONGEST_SAID);
        $this->database->connection->executeStatement('UPDATE answer_given SET said = ? WHERE channel = ? AND reply_id = ?', [$said, ...$key]);

        return $said;
    }

    private function done(KeptChannel $channel, ArrivedAnswer $answer): string
    {
        $reply = match (true) {
            $answer->button !== '' => Reply::ofText(AnswerKind::tryFrom($answer->button)?->word() ?? ''),
            $answer->key !== '' => Reply::ofKey($answer->key),
            default => Reply::ofText($answer->text),
        };
        $people = $this->whoIs($channel, $answer->from);
        if ($people === []) {
            return self::NOT_KNOWN;
        }
        if ($reply === null) {
            return self::HELP;
        }
        // A telephone may be two people's; the message says whom it was for.
        $why = 'You may not answer incidents.';
        foreach ($people as $id) {
            $person = $this->people->find($id);
            if ($person === null || !$person->mayAct() || $person->role === Role::Viewer) {
                continue;
            }
            $incident = $this->meant($channel, $person, $reply, $answer->message);
            if (is_string($incident)) {
                $why = $incident;
                continue;
            }

            try {
                return $this->give($person, $incident, $reply, "by {$channel->name}");
            } catch (Problem $problem) {
                return $problem->getMessage();
            }
        }

        return $why;
    }

    /** @return Incident|string that is answered; or why none is */
    private function meant(KeptChannel $channel, Person $person, Reply $reply, string $message): Incident|string
    {
        $now = $this->clock->now();
        if ($message !== '') {
            return $this->ofMessage($channel, $person, $message);
        }
        if ($reply->code !== '') {
            $of = $this->codes->incident($person->id(), $reply->code, $now);

            return ($of === null ? null : $this->entities->find(Incident::class, $of)) ?? "{$reply->code} is the code of nothing that you were told of.";
        }
        $asked = array_map(fn(int $id): ?Incident => $this->entities->find(Incident::class, $id), $this->codes->asked($person->id(), $now));
        $open = array_values(array_filter($asked, static fn(?Incident $one): bool => $one !== null && $one->status !== IncidentStatus::Resolved));
        if (count($open) === 1) {
            return $open[0];
        }
        if ($open === []) {
            return $asked === [] || $asked[0] === null ? 'You were told of nothing of late.' : $this->overWords($asked[0]);
        }
        $listed = array_map(
            fn(Incident $one): string => "{$this->codes->of($one->id(), $person->id(), $now)}: {$one->title}",
            array_slice($open, 0, self::MOST_LISTED),
        );

        return 'Which one? Say its three letters too. ' . implode('; ', $listed);
    }

    /** A call is answered by whoever was called; what was said in a room, by anybody who may. */
    private function ofMessage(KeptChannel $channel, Person $person, string $message): Incident|string
    {
        $of = $this->deliveries->findOneBy(['messageKey' => $message, 'channel' => $channel->name]);
        $incident = $of === null ? null : $this->entities->find(Incident::class, $of->incidentId);
        if ($of === null || $incident === null) {
            return 'Olivine does not know that message any more.';
        }

        return $channel->kind->isByNumber() && $of->personId !== $person->id() ? 'That message was for somebody else.' : $incident;
    }

    /** @return list<int> people who verified that this is theirs, however the other side writes it */
    private function whoIs(KeptChannel $channel, string $from): array
    {
        $kind = $channel->kind === ChannelKind::Chat ? ContactKind::Chat : ContactKind::Phone;
        try {
            return $this->contacts->whoHas($kind->value, $kind->checked($from));
        } catch (Problem) {
            return [];
        }
    }

    /** @throws Problem where it stands otherwise by now, or may not be so */
    private function give(Person $person, Incident $incident, Reply $reply, string $how): string
    {
        // As it is now, held until this is done.
        $this->entities->refresh($incident);
        if ($incident->status === IncidentStatus::Resolved) {
            return $this->overWords($incident);
        }
        $of = "Incident {$incident->id()}";
        switch ($reply->kind) {
            case AnswerKind::Acknowledge:
                $fields = new AcknowledgeFields($reply->for?->seconds());
                if ($this->actions->acknowledgeIfOpen($incident, $person, $how, $fields)) {
                    return "{$of} is yours" . ($reply->for === null ? '' : " for {$reply->for->words()}") . '; nobody else is woken for it.';
                }

                return $incident->acknowledgedBy === $person->id() ? "You have {$of} already." : "{$this->holder($incident)} has {$of}. To take it: take.";
            case AnswerKind::Take:
                $this->actions->assign($incident, $person, $person, new AssignFields($person->id(), $how));

                return "{$of} is yours.";
            case AnswerKind::Cannot:
                $this->actions->cannot($incident, $person, $how);

                return "Noted: you cannot see to {$of}; the next rung is climbed.";
            case AnswerKind::HandOver:
                return $this->handOver($person, $incident, $reply->rest, $how);
            case AnswerKind::Note:
                $this->actions->note($incident, $person, "{$reply->rest} ({$how})");

                return "Noted with {$of}.";
        }
    }

    /** @throws Problem */
    private function handOver(Person $person, Incident $incident, string $name, string $how): string
    {
        $may = static fn(Person $one): bool => $one->mayAct() && $one->role !== Role::Viewer;
        $meant = array_values(array_filter(
            $this->people->byName(),
            static fn(Person $one): bool => $may($one) && str_contains(mb_strtolower($one->name), mb_strtolower($name)),
        ));
        if (count($meant) !== 1) {
            $names = implode(', ', array_column($meant, 'name'));

            return $meant === [] ? "There is nobody called {$name} who could see to it." : "{$name} may be {$names}.";
        }
        $this->actions->assign($incident, $meant[0], $person, new AssignFields($meant[0]->id(), $how));

        return "Incident {$incident->id()} is {$meant[0]->name}'s, who is told.";
    }

    private function overWords(Incident $incident): string
    {
        $since = $incident->resolvedAt?->in($this->settings->zone())->format('D H:i');

        return "Incident {$incident->id()} is over" . ($since === null ? '' : " since {$since}") . '; there is nothing to answer.';
    }

    private function holder(Incident $incident): string
    {
        return $incident->acknowledgedBy === null ? 'Somebody' : $this->people->find($incident->acknowledgedBy)->name ?? 'Somebody';
    }
}
