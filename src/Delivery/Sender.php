<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Channel\CarriesLetters;
use Olivine\App\Delivery\Channel\Channel;
use Olivine\App\Delivery\Channel\Channels;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Olivine\App\Delivery\Channel\Notice;
use Olivine\App\Delivery\Channel\Receipt;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\PartWork;
use Olivine\App\Platform\SetAside;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Copy;
use Olivine\Core\Delivery\Course;
use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Psr\Log\LoggerInterface;

/**
 * Empties the queue of one channel. A message is claimed, the claim committed, then it is sent, then marked: whoever dies in
 * between sends it again under the same key. What is not taken is tried on, and goes by the next way meanwhile.
 */
final class Sender implements PartWork
{
    /** A mail server may be away for a night; whoever is to be told wants to be told then too. */
    private const GIVE_UP_AFTER_HOURS = 24;
    private const MOST_DOUBLINGS = 10;
    private const FIRST_PAUSE_MS = 2_000;
    /** What was refused is tried again so seldom at last; whether a way that was away is back is looked at more often. */
    private const LONGEST_PAUSE_MS = 300_000;
    private const LONGEST_AWAY_MS = 30_000;
    private const TURN_MS = 1_000;
    private const SENT_A_ROUND = 20;
    private const LETTERS_A_ROUND = 3;
    private const ORPHANS_EVERY_SECONDS = 5;
    private const MOST_TOGETHER = 1_000;
    /** So long more is claimed for one message: it is sent, and what follows kept, while the slot is ours. */
    private const GATHERS_MS = 1_000;
    /** Of what is told together so many are told with their figures, the others by their titles. */
    private const MOST_WITH_FIGURES = 20;
    private const NOTHING_THERE_MS = 1_000;
    private const HUSH_LOOKED_AT_MS = 30_000;

    /** Where one message went another may follow soon; after a calm while it is looked less often, for there are several senders. */
    private const BUSY_SECONDS = 60;
    private const BUSY_MS = 150;
    private const CALM_MS = 400;

    private ?Instant $busyAt = null;
    private ?Channel $channel = null;
    private HeldSlots $slots;
    private bool $tookOver = false;
    /** @var array<string, array{Instant, Instant, int}> way → since when it is away, when it is tried again, how often it was tried */
    private array $away = [];
    /** @var list<Delivery> what is claimed for the message that is under way: whatever becomes of that becomes of all of it */
    private array $inHand = [];
    private ?Instant $orphansAt = null;
    private float $sent = 0.0;
    private float $failed = 0.0;

    public function __construct(
        private readonly Database $database,
        private readonly EntityManagerInterface $entities,
        private readonly DeliveryRepository $deliveries,
        private readonly IncidentAlertRepository $alerts,
        private readonly Channels $channels,
        private readonly Outcomes $outcomes,
        private readonly Notices $notices,
        private readonly Trail $trail,
        private readonly Withholding $withholding,
        private readonly WhoHears $who,
        private readonly Letters $letters,
        private readonly SetAside $aside,
        private readonly LoggerInterface $logger,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->slots = HeldSlots::none(PartName::Mail);
    }

    /** Whose queue this is from now on. */
    public function serve(Channel $channel): void
    {
        $this->channel = $channel;
    }

    public function round(): int
    {
        try {
            return $this->work($this->channel ?? throw new \LogicException('It is not said whose queue this is'));
        } catch (\Throwable $error) {
            // What was claimed when this broke off is claimed by nobody now.
            $this->tookOver = false;
            throw $error;
        }
    }

    /** Another sender may have had some of these incidents: its claims are looked at anew. */
    public function hold(HeldSlots $slots): void
    {
        $this->slots = $slots;
        $this->tookOver = false;
    }

    public function figures(): array
    {
        return [
            'olivine_messages_sent_total' => $this->sent,
            'olivine_messages_failed_total' => $this->failed,
            'olivine_messages_waiting' => (float) $this->deliveries->waiting($this->slots, $this->channel === null ? [] : self::queueOf($this->channel)),
        ];
    }

    /** @throws LeaseLost */
    private function work(Channel $channel): int
    {
        $ways = self::queueOf($channel);
        if (!$this->tookOver) {
            // Nobody else holds these slots, so what is still claimed was claimed by one that is gone.
            $this->deliveries->takeClaimsOver($this->slots, $ways);
            $this->letters->takeClaimsOver($this->slots, $ways);
            $this->tookOver = true;
        }
        foreach ($channel->setAnew() as $way) {
            $this->isThere($way, $this->clock->now());
        }
        if ($channel->part() === PartName::Mail) {
            $this->takeOrphans();
        }
        $due = $this->deliveries->due($this->slots, $ways, $this->clock->now(), self::SENT_A_ROUND);
        foreach ($due as $delivery) {
            $this->tried($channel, $delivery);
        }
        $letters = $channel instanceof CarriesLetters ? $this->sendLetters($channel, $ways) : 0;
        if ($due === [] && $letters === 0) {
            $channel->rest();
        }

        $now = $this->clock->now();
        if ($due !== [] || $letters > 0) {
            $this->busyAt = $now;

            return 0;
        }

        return match (true) {
            // Nothing of this kind is set up.
            $ways === [] => self::NOTHING_THERE_MS,
            $this->busyAt !== null && $now->isBefore($this->busyAt->plus(Duration::ofSeconds(self::BUSY_SECONDS))) => self::BUSY_MS,
            default => self::CALM_MS,
        };
    }

    /** @return list<string> the ways that it empties, those of single people too */
    private static function queueOf(Channel $channel): array
    {
        return [...$channel->ways(), ...$channel->personal()];
    }

    /**
     * Letters come after what is of an incident, a few at a time; one that fails in a way that nobody foresaw stops nothing.
     *
     * @param list<string> $ways
     *
     * @return int how many were tried
     */
    private function sendLetters(CarriesLetters $channel, array $ways): int
    {
        $tried = 0;
        $this->aside->unless($this->slots->part->value, 'letters', function () use ($channel, $ways, &$tried): void {
            $tried = $this->letters->sendDue($channel, $ways, $this->slots, self::LETTERS_A_ROUND);
        });

        return $tried;
    }

    /** What waits for a way that was taken away goes another one. Mail there is always, so its sender looks after them. */
    private function takeOrphans(): void
    {
        $now = $this->clock->now();
        if ($this->orphansAt !== null && $now->isBefore($this->orphansAt)) {
            return;
        }
        $this->orphansAt = $now->plus(Duration::ofSeconds(self::ORPHANS_EVERY_SECONDS));
        $ways = $this->channels->allWays();
        $dueBefore = $now->minus(Duration::ofSeconds(self::ORPHANS_EVERY_SECONDS));
        foreach ($this->deliveries->orphans($this->slots, $ways, $dueBefore, self::SENT_A_ROUND) as $delivery) {
            $this->outcomes->cannotGo($delivery, "there is no channel {$delivery->channel} any more", $now);
            ++$this->failed;
        }
    }

    /**
     * One message that fails in a way that nobody foresaw stops none of the others.
     *
     * @throws LeaseLost
     */
    private function tried(Channel $channel, Delivery $delivery): void
    {
        try {
            $this->send($channel, $delivery);
        } catch (\Throwable $error) {
            if (Database::mayPass($error) || $error instanceof LeaseLost) {
                throw $error;
            }
            $this->logger->error('The message {key} failed: {exception}', ['key' => $delivery->messageKey, 'exception' => $error]);
            $this->database->recover();
            $now = $this->clock->now();
            $this->aside->put($this->slots->part->value, "message {$delivery->id()}", $error->getMessage(), $now);
            foreach ($this->inHand === [] ? [$delivery] : $this->inHand as $one) {
                $this->deliveries->postpone($one, $now->plus(Duration::ofMs(self::LONGEST_PAUSE_MS)), 'it failed here; the log has the reason');
            }
        }
    }

    /** @throws LeaseLost */
    private function send(Channel $channel, Delivery $delivery): void
    {
        $this->entities->clear();
        $this->inHand = [];
        $person = $this->entities->find(Person::class, $delivery->personId);
        $isForSomebody = $delivery->personId !== Copy::NOBODY_IN_PARTICULAR;
        $name = $person->name ?? 'whoever reads there';
        $away = $this->away[$delivery->channel] ?? null;
        if (($person !== null || !$isForSomebody) && $away !== null && $away[1]->isAfter($this->clock->now())) {
            // One message at a time finds out whether it is back; the others wait, and go another way.
            $this->outcomes->waits($delivery, $name, $away[0], $away[1], $this->clock->now());

            return;
        }
        if ($this->withholding->withholds($delivery, $name, $channel->carries(), $this->clock->now())) {
            return;
        }
        $incident = $this->claim($delivery, $person !== null || !$isForSomebody, $name, $this->who->now());
        if ($incident === null) {
            return;
        }
        if ($person?->mayAct() === false) {
            $this->outcomes->notTold($delivery, "{$person->name} was not told: barred or removed meanwhile", $this->clock->now());
            ++$this->failed;

            return;
        }
        $whom = $channel->addressOf($delivery->channel, $person);
        $began = $this->clock->now();
        $this->inHand = [$delivery];
        try {
            $notice = $this->notices->of($incident, $delivery->kind, $delivery->messageKey, $began);
            $beside = $delivery->isToldTogether() && $channel->carries()->together ? $this->claimedBeside($delivery, $name, $began) : [];
            $receipt = $beside === []
                ? $channel->send($delivery->channel, $notice, $person)
                : $channel->sendTogether($delivery->channel, [$notice, ...$beside], $person);
        } catch (NotHandedOver $refused) {
            $this->notTaken($delivery->channel, $name, $refused);

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
            $this->aside->put($this->slots->part->value, $whom, $error->getMessage(), $began);
            foreach ($this->inHand as $one) {
                $this->outcomes->cannotGo($one, "the {$whom} cannot be sent: {$error->getMessage()}", $this->clock->now());
                ++$this->failed;
            }

            return;
        }
        // What went together has one time, by which it counts as one message.
        $at = $this->clock->now();
        $this->taken([$delivery, ...array_slice($this->inHand, 1)], $name, $receipt, $began, $whom, $at);
    }

    /**
     * @return list<Notice> what else is told in the same message, claimed
     *
     * @throws LeaseLost
     */
    private function claimedBeside(Delivery $delivery, string $name, Instant $now): array
    {
        $beside = [];
        $configuration = $this->who->now();
        $until = $now->plus(Duration::ofMs(self::GATHERS_MS));
        foreach ($this->deliveries->dueBeside($delivery, $this->slots, $now, self::MOST_TOGETHER) as $other) {
            if ($this->clock->now()->isAfter($until)) {
                break;
            }
            $incident = $this->claim($other, true, $name, $configuration);
            if ($incident !== null) {
                $this->inHand[] = $other;
                $beside[] = count($beside) < self::MOST_WITH_FIGURES
                    ? $this->notices->of($incident, $other->kind, $other->messageKey, $now)
                    : Notice::titled($incident, $other->kind, $other->messageKey, $this->alerts->countsOf([$incident->id()])[$incident->id()] ?? 0, $now);
            }
        }

        return $beside;
    }

    /** @param non-empty-list<Delivery> $together what went in one message */
    private function taken(array $together, string $name, Receipt $receipt, Instant $began, string $whom, Instant $now): void
    {
        $this->aside->over($this->slots->part->value, $whom);
        foreach ($together as $one) {
            $this->aside->over($this->slots->part->value, "message {$one->id()}");
        }
        $this->outcomes->taken($together, $name, $receipt->answer, $now, $now->since($began));
        $this->sent += count($together);
        $way = $together[0]->channel;
        if (isset($this->away[$way])) {
            $this->isThere($way, $now);
        }
    }

    private function notTaken(string $way, string $name, NotHandedOver $refused): void
    {
        $now = $this->clock->now();
        $again = null;
        if ($refused->isAway) {
            [$since, , $tries] = $this->away[$way] ?? [$now, $now, 0];
            $until = $now->plus(self::pause($tries + 1, self::LONGEST_AWAY_MS));
            $this->away[$way] = [$since, $until, $tries + 1];
            // Another message finds out next time: maybe it is this one that is not borne.
            $again = $until->plus(Duration::ofMs(self::TURN_MS));
        }
        foreach ($this->inHand as $delivery) {
            // What nobody has in hand is tried for as long as it is so.
            $mayBeGivenUp = $delivery->kind !== MessageKind::Raised;
            $isGivenUp = $mayBeGivenUp && $now->since($delivery->dueAt)->isLongerThan(Duration::ofHours(self::GIVE_UP_AFTER_HOURS));
            $this->failed += $isGivenUp ? 1 : 0;
            $next = $again ?? $now->plus(self::pause($delivery->attempts + 1, self::LONGEST_PAUSE_MS));
            $this->outcomes->notTaken($delivery, $name, $refused->getMessage(), $now, $isGivenUp ? null : $next);
        }
    }

    /** A way works again, or another one: what waits for it waits no longer. */
    private function isThere(string $way, Instant $now): void
    {
        unset($this->away[$way]);
        $this->deliveries->wake($way, $now);
    }

    private static function pause(int $attempts, int $longestMs): Duration
    {
        return Duration::ofMs(min($longestMs, self::FIRST_PAUSE_MS * 2 ** min(self::MOST_DOUBLINGS, $attempts - 1)));
    }

    /**
     * What was planned before it was muted: tried on, or of somebody's quiet hours.
     *
     * @return array{Instant, Line}|null until when it waits, and what says so
     */
    private function waits(Course $course, Incident $incident, Delivery $delivery): ?array
    {
        $alerts = [];
        foreach ($this->alerts->of($incident->id()) as $alert) {
            $alerts[IncidentStates::key($alert->ruleId, $alert->labelsHash)] = $alert;
        }

        return $course->waits(IncidentStates::of($incident, $alerts), $delivery->kind, $this->clock->now());
    }

    /**
     * Whether it is still to be told is decided from the incident as it is now, in the transaction that claims it.
     *
     * @return Incident|null that it tells of; null where it is not ours to send, or is told no more
     *
     * @throws LeaseLost where its slot is another's by now
     */
    private function claim(Delivery $delivery, bool $isThere, string $name, Configuration $now): ?Incident
    {
        return $this->database->transaction(function () use ($delivery, $isThere, $name, $now): ?Incident {
            $incident = $this->entities->find(Incident::class, $delivery->incidentId);
            if ($incident === null || !$isThere) {
                $this->deliveries->giveUp($delivery, 'the person or the incident is gone');

                return null;
            }
            $this->entities->refresh($incident, LockMode::PESSIMISTIC_READ);
            $configuration = $incident->goesBy($now);
            $course = new Course($configuration);
            $why = $course->overtaken(IncidentStates::of($incident), $delivery->kind);
            $waits = $why === null && $configuration->mutes->all !== [] ? $this->waits($course, $incident, $delivery) : null;
            if ($waits !== null) {
                [$until, $line] = $waits;
                // It may be ended by hand before.
                $this->deliveries->postpone($delivery, $until->earlier($this->clock->now()->plus(Duration::ofMs(self::HUSH_LOOKED_AT_MS))), $line->words);
                $this->trail->add($incident->id(), $line->at, $line->kind, $line->words, $line->onceKey);

                return null;
            }
            if ($why === null) {
                return $this->deliveries->claim($delivery) ? $incident : null;
            }
            $this->deliveries->withdraw($delivery, $why);
            $words = sprintf('%s: %s is not told: %s', Outcomes::label($delivery), $name, $why);
            $this->trail->add($incident->id(), $this->clock->now(), TrailKind::HeldBack, $words, "withdrawn {$delivery->id()}");

            return null;
        });
    }
}
