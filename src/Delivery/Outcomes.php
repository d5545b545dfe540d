<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\Event;
use Olivine\Core\Delivery\Event\NotTaken;
use Olivine\Core\Delivery\Event\Taken;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\Rung;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What became of a message: it is kept with it, and the course of its incident goes on by it, in one transaction. */
final readonly class Outcomes
{
    private const LONGEST_REASON = 300;
    private const KEPT_AT_ONCE = 50;

    public function __construct(
        private Database $database,
        private EntityManagerInterface $entities,
        private DeliveryRepository $deliveries,
        private Courses $courses,
        private Trail $trail,
        private Settings $settings,
    ) {
    }

    /** @param non-empty-list<Delivery> $together what went in one message */
    public function taken(array $together, string $whom, string $answer, Instant $at, Duration $took): void
    {
        // What follows for so many incidents is kept at once, and no more are held at a time.
        foreach (array_chunk($together, self::KEPT_AT_ONCE) as $some) {
            $this->database->transaction(function () use ($some, $whom, $answer, $at, $took): void {
                $courses = $this->courses->begin();
                foreach ($some as $delivery) {
                    $words = sprintf('%s: %s to %s, taken over there in %d ms', self::label($delivery), $delivery->channel, $whom, $took->ms);
                    $once = "sent {$delivery->messageKey}";
                    $event = new Taken($delivery->kind, $delivery->round, $delivery->personId, $delivery->channel, $words, $once);
                    $this->follow($courses, $delivery, $event, $at, fn() => $this->deliveries->markSent($delivery, $at, $answer));
                }
                $this->entities->flush();
            });
        }
    }

    /** @param Instant|null $again when it is tried again; null where it is given up */
    public function notTaken(Delivery $delivery, string $whom, string $reason, Instant $at, ?Instant $again): void
    {
        $reason = mb_substr(mb_scrub($reason), 0, self::LONGEST_REASON);
        $attempt = $delivery->attempts + 1;
        $words = sprintf('%s: %s to %s failed (attempt %d): %s', self::label($delivery), $delivery->channel, $whom, $attempt, $reason);
        $words = match (true) {
            $again === null => "{$words}; given up after a day",
            self::isSaid($attempt) => $words,
            default => '',
        };
        $keep = fn() => $again === null ? $this->deliveries->giveUp($delivery, $reason) : $this->deliveries->postpone($delivery, $again, $reason);
        $this->goOn($delivery, self::failed($delivery, $words, null), $at, $keep);
    }

    /** Its way is known to be away: it is not tried before another one got through, or it is tried again at all. */
    public function waits(Delivery $delivery, string $whom, Instant $since, Instant $until, Instant $at): void
    {
        $shown = $since->in($this->settings->zone())->format('H:i:s');
        $reason = "{$delivery->channel} has taken nothing since {$shown}";
        $words = sprintf('%s: %s to %s waits: %s', self::label($delivery), $delivery->channel, $whom, $reason);
        $event = self::failed($delivery, $words, "waits {$delivery->id()} {$since->ms}");
        $answer = $delivery->answer === '' ? $reason : $delivery->answer;
        $this->goOn($delivery, $event, $at, fn() => $this->deliveries->postpone($delivery, $until, $answer));
    }

    /** It is not tried this way again by itself; by another way it may be. */
    public function cannotGo(Delivery $delivery, string $words, Instant $at): void
    {
        $words = mb_scrub(self::label($delivery) . ": {$words}");
        $event = self::failed($delivery, $words, "given up {$delivery->id()}");
        $this->goOn($delivery, $event, $at, fn() => $this->deliveries->giveUp($delivery, mb_substr($words, 0, self::LONGEST_REASON)));
    }

    /** The person is told by no way any more. */
    public function notTold(Delivery $delivery, string $words, Instant $at): void
    {
        $words = mb_scrub(self::label($delivery) . ": {$words}");
        $this->database->transaction(function () use ($delivery, $words, $at): void {
            $this->deliveries->giveUp($delivery, mb_substr($words, 0, self::LONGEST_REASON));
            $this->trail->add($delivery->incidentId, $at, TrailKind::Failed, $words, "given up {$delivery->id()}");
        });
    }

    /** What a message is of, in the words of the trail. */
    public static function label(Delivery $delivery): string
    {
        return match ($delivery->kind) {
            MessageKind::Raised => Rung::words($delivery->round),
            MessageKind::Worse => 'grown worse',
            MessageKind::Lost => 'lost from sight',
            MessageKind::Recovered => 'recovery',
            MessageKind::Assigned => 'given to',
            MessageKind::CopyOpened => 'copy',
            MessageKind::CopyWorse => 'copy, grown worse',
            MessageKind::CopyResolved => 'copy, recovery',
        };
    }

    /** A server that is away for a night is tried a thousand times; the trail tells of the attempts 1, 2, 4, 8 … */
    private static function isSaid(int $attempt): bool
    {
        return ($attempt & ($attempt - 1)) === 0;
    }

    private static function failed(Delivery $delivery, string $words, ?string $onceKey): NotTaken
    {
        return new NotTaken($delivery->kind, $delivery->round, $delivery->personId, $delivery->channel, $words, $onceKey);
    }

    /** @param \Closure(): void $keep within the transaction, when the incident is held by it */
    private function goOn(Delivery $delivery, Event $event, Instant $at, \Closure $keep): void
    {
        $this->database->transaction(function () use ($delivery, $event, $at, $keep): void {
            $this->follow($this->courses->begin(), $delivery, $event, $at, $keep);
            $this->entities->flush();
        });
    }

    /** @param \Closure(): void $keep within the transaction, when the incident is held by it */
    private function follow(CoursesUnderWay $courses, Delivery $delivery, Event $event, Instant $at, \Closure $keep): void
    {
        $incident = $this->entities->find(Incident::class, $delivery->incidentId);
        $one = $incident === null ? null : $courses->of($incident);
        $keep();
        if ($one !== null) {
            $courses->step($one, $event, $at);
        }
    }
}
