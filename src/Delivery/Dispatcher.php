<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Delivery\Channel\NotTaken;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\PartWork;
use Olivine\App\Platform\SetAside;
use Olivine\Core\Delivery\Course;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Psr\Log\LoggerInterface;

/**
 * Turns transitions into incidents, incidents into planned messages, and sends those. A message is claimed, the
 * claim committed, then it is sent, then marked: whoever dies in between sends it again under the same Message-ID.
 */
final class Dispatcher implements PartWork
{
    /** A mail server may be away for a night; whoever is to be told wants to be told then too. */
    private const GIVE_UP_AFTER_HOURS = 24;
    private const MOST_DOUBLINGS = 10;
    /** A rule that could not be evaluated for so long is told to whoever is on call. */
    private const TOLD_AFTER_MINUTES = 5;
    private const PROBLEMS_EVERY_MS = 2_000;
    private const FIRST_PAUSE_MS = 2_000;
    private const LONGEST_PAUSE_MS = 300_000;
    private const LONGEST_REASON = 300;
    private const SENT_A_ROUND = 20;
    private const NOBODY_THERE_SECONDS = 10;

    private HeldSlots $slots;
    private bool $tookOver = false;
    /** @var array<string, true> channels whose last message was not taken */
    private array $away = [];
    private ?Instant $problemsAt = null;
    /** Where nobody was there to be told: when that is looked at again. */
    private ?Instant $climbAt = null;
    private float $sent = 0.0;
    private float $failed = 0.0;

    public function __construct(
        private readonly Database $database,
        private readonly EntityManagerInterface $entities,
        private readonly DeliveryRepository $deliveries,
        private readonly IncidentBook $book,
        private readonly Courses $courses,
        private readonly Notices $notices,
        private readonly Channels $channels,
        private readonly Trail $trail,
        private readonly SetAside $aside,
        private readonly LoggerInterface $logger,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->slots = HeldSlots::none(PartName::Dispatcher);
    }

    public function round(): int
    {
        try {
            return $this->work();
        } catch (\Throwable $error) {
            // What was claimed when this broke off is claimed by nobody now.
            $this->tookOver = false;
            throw $error;
        }
    }

    /** Another dispatcher may have had some of these incidents: its claims are looked at anew. */
    public function hold(HeldSlots $slots): void
    {
        $this->slots = $slots;
        $this->tookOver = false;
    }

    /** @throws LeaseLost */
    private function work(): int
    {
        if (!$this->tookOver) {
            // Nobody else holds these slots, so what is still claimed was claimed by one that is gone.
            $this->deliveries->takeClaimsOver($this->slots);
            $this->tookOver = true;
        }
        // Which alerts belong together is seen by one only; who is told of them is shared.
        $taken = $this->slots->hasFirst() ? $this->bringUpIncidents() : 0;
        foreach ($this->channels->setAnew() as $channel) {
            $this->deliveries->wake($channel, $this->clock->now());
        }
        $due = $this->deliveries->due($this->slots, $this->clock->now(), self::SENT_A_ROUND);
        foreach ($due as $delivery) {
            $this->send($delivery);
        }
        if ($due === []) {
            $this->channels->rest();
        }

        return $taken > 0 || $due !== [] ? 0 : 150;
    }

    /** @return int how many transitions were taken */
    private function bringUpIncidents(): int
    {
        $taken = $this->book->takeTransitions(TakeMode::Live);
        $now = $this->clock->now();
        if ($this->problemsAt === null || !$now->isBefore($this->problemsAt)) {
            $this->book->takeProblems($now, Duration::ofMinutes(self::TOLD_AFTER_MINUTES));
            $this->problemsAt = $now->plus(Duration::ofMs(self::PROBLEMS_EVERY_MS));
        }
        if ($this->climbAt === null || !$now->isBefore($this->climbAt)) {
            $isAnybodyThere = $this->courses->letTimePass($now);
            $this->climbAt = $isAnybodyThere ? null : $now->plus(Duration::ofSeconds(self::NOBODY_THERE_SECONDS));
        }

        return $taken;
    }

    public function figures(): array
    {
        return [
            'olivine_messages_sent_total' => $this->sent,
            'olivine_messages_failed_total' => $this->failed,
            'olivine_messages_waiting' => (float) $this->deliveries->waiting($this->slots),
        ];
    }

    /** @throws LeaseLost */
    private function send(Delivery $delivery): void
    {
        $this->entities->clear();
        $person = $this->entities->find(Person::class, $delivery->personId);
        $incident = $this->claim($delivery, $person);
        if ($incident === null || $person === null) {
            return;
        }
        $attempt = $delivery->attempts + 1;
        $label = self::label($delivery);
        if (!$person->mayAct()) {
            $this->giveUp($delivery, "{$label}: {$person->name} was not told: barred or removed meanwhile");

            return;
        }
        $channel = $this->channels->named($delivery->channel);
        if ($channel === null) {
            $this->giveUp($delivery, "{$label}: {$person->name} was not told: there is no channel {$delivery->channel} any more");

            return;
        }
        $whom = $channel->addressOf($person);
        $began = $this->clock->now();
        try {
            $receipt = $channel->send($this->notices->of($incident, $delivery->kind, $delivery->messageKey, $began), $person);
        } catch (NotTaken $refused) {
            $this->postpone($delivery, $attempt, $label, $person, $refused->getMessage());

            return;
        } catch (\Throwable $error) {
            if (Database::mayPass($error) || $error instanceof LeaseLost) {
                throw $error;
            }
            $this->logger->error('The message {key} cannot be sent: {exception}', [
                'key' => $delivery->messageKey,
                'exception' => $error,
            ]);
            $this->database->recover();
            $this->aside->put('dispatcher', $whom, $error->getMessage(), $began);
            $this->giveUp($delivery, "{$label}: the {$whom} cannot be sent: {$error->getMessage()}");

            return;
        }
        $this->aside->over('dispatcher', $whom);
        $now = $this->clock->now();
        $words = sprintf('%s: %s to %s, taken over there in %d ms', $label, $delivery->channel, $person->name, $now->since($began)->ms);
        $this->database->transaction(function () use ($delivery, $now, $receipt, $words): void {
            $this->deliveries->markSent($delivery, $now, $receipt->answer);
            $this->trail->add($delivery->incidentId, $now, TrailKind::Told, $words, "sent {$delivery->messageKey}");
        });
        ++$this->sent;
        if (isset($this->away[$delivery->channel])) {
            unset($this->away[$delivery->channel]);
            $this->deliveries->wake($delivery->channel, $now);
        }
    }

    /**
     * Whether it is still to be told is decided from the incident as it is now, in the transaction that claims it.
     *
     * @return Incident|null that it tells of; null where it is not ours to send, or is told no more
     *
     * @throws LeaseLost where its slot is another's by now
     */
    private function claim(Delivery $delivery, ?Person $person): ?Incident
    {
        return $this->database->transaction(function () use ($delivery, $person): ?Incident {
            $incident = $this->entities->find(Incident::class, $delivery->incidentId);
            if ($incident === null || $person === null) {
                $this->deliveries->giveUp($delivery, 'the person or the incident is gone');

                return null;
            }
            $this->entities->refresh($incident, LockMode::PESSIMISTIC_READ);
            $why = Course::overtaken(IncidentStates::of($incident), $delivery->kind);
            if ($why === null) {
                return $this->deliveries->claim($delivery) ? $incident : null;
            }
            $this->deliveries->withdraw($delivery, $why);
            $words = sprintf('%s: %s is not told: %s', self::label($delivery), $person->name, $why);
            $this->trail->add($incident->id(), $this->clock->now(), TrailKind::HeldBack, $words, "withdrawn {$delivery->id()}");

            return null;
        });
    }

    private function postpone(Delivery $delivery, int $attempt, string $label, Person $person, string $reason): void
    {
        $reason = mb_substr(mb_scrub($reason), 0, self::LONGEST_REASON);
        $now = $this->clock->now();
        $pause = min(self::LONGEST_PAUSE_MS, self::FIRST_PAUSE_MS * 2 ** min(self::MOST_DOUBLINGS, $attempt - 1));
        $words = sprintf('%s: %s to %s failed (attempt %d): %s', $label, $delivery->channel, $person->name, $attempt, $reason);
        $this->away[$delivery->channel] = true;
        // What nobody has in hand is tried for as long as it is so.
        $mayBeGivenUp = $delivery->kind !== MessageKind::Raised;
        if ($mayBeGivenUp && $now->since($delivery->dueAt)->isLongerThan(Duration::ofHours(self::GIVE_UP_AFTER_HOURS))) {
            $this->giveUp($delivery, "{$words}; given up after a day");

            return;
        }
        $this->database->transaction(function () use ($delivery, $reason, $now, $pause, $words): void {
            $this->deliveries->postpone($delivery, $now->plus(Duration::ofMs($pause)), $reason);
            $this->trail->add($delivery->incidentId, $now, TrailKind::Failed, $words);
        });
    }

    private function giveUp(Delivery $delivery, string $words): void
    {
        $words = mb_scrub($words);
        $this->database->transaction(function () use ($delivery, $words): void {
            $this->deliveries->giveUp($delivery, mb_substr($words, 0, self::LONGEST_REASON));
            $this->trail->add(
                $delivery->incidentId,
                $this->clock->now(),
                TrailKind::Failed,
                $words,
                "given up {$delivery->id()}",
            );
        });
        ++$this->failed;
    }

    private static function label(Delivery $delivery): string
    {
        return match ($delivery->kind) {
            MessageKind::Raised => "rung {$delivery->round}",
            MessageKind::Worse => 'grown worse',
            MessageKind::Lost => 'lost from sight',
            MessageKind::Recovered => 'recovery',
        };
    }
}
