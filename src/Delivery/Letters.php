<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\CarriesLetters;
use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Channel\NotHandedOver;
use Olivine\App\Delivery\Entity\Letter;
use Olivine\App\Delivery\Repository\LetterRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\OneLine;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** What is of no incident: posted with what it tells of, in its transaction, and sent by whoever empties the queue of its way. */
final readonly class Letters
{
    private const GIVE_UP_AFTER_HOURS = 24;
    private const FIRST_PAUSE_MS = 2_000;
    private const LONGEST_PAUSE_MS = 300_000;
    private const MOST_DOUBLINGS = 10;

    public function __construct(
        private Database $database,
        private LetterRepository $letters,
        private PersonRepository $people,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @param string $key what is posted twice under it is sent once */
    public function post(int $person, string $subject, string $text, string $key, string $address = '', string $way = MailChannel::NAME): void
    {
        $now = $this->clock->now()->ms;
        $subject = mb_substr(OneLine::of($subject), 0, Letter::SUBJECT_LENGTH);
        $this->database->insertNew(
            'letter',
            ['person_id', 'way', 'address', 'subject', 'text', 'letter_key', 'at', 'status', 'attempts', 'next_at', 'answer'],
            [[$person, $way, $address, $subject, $text, $key, $now, DeliveryStatus::Planned->value, 0, $now, '']],
        );
    }

    /** @return int how many letters with keys that begin so were posted to somebody */
    public function postedTo(int $person, string $keys, Instant $since): int
    {
        return $this->letters->posted($person, $keys, $since);
    }

    /**
     * @param list<string> $ways of the channel
     *
     * @return int how many were tried
     */
    public function sendDue(CarriesLetters $channel, array $ways, HeldSlots $slots, int $most): int
    {
        $due = $this->letters->due($slots, $ways, $this->clock->now(), $most);
        foreach ($due as $letter) {
            if ($this->letters->claim($letter)) {
                $this->send($channel, $letter);
            }
        }

        return count($due);
    }

    /** @param list<string> $ways */
    public function takeClaimsOver(HeldSlots $slots, array $ways): void
    {
        $this->letters->takeClaimsOver($slots, $ways);
    }

    private function send(CarriesLetters $channel, Letter $letter): void
    {
        $person = $this->people->find($letter->personId);
        if ($person?->mayAct() !== true) {
            $this->letters->markNotSent($letter, null, 'barred or removed meanwhile');

            return;
        }
        try {
            $receipt = $channel->letter($letter->way, $person, $letter->address, $letter->subject, $letter->text, $letter->key);
            $this->letters->markSent($letter, $this->clock->now(), $receipt->answer);
        } catch (NotHandedOver $refused) {
            $this->letters->markNotSent($letter, $this->again($letter), $refused->getMessage());
        }
    }

    private function again(Letter $letter): ?Instant
    {
        $now = $this->clock->now();
        $pause = min(self::LONGEST_PAUSE_MS, self::FIRST_PAUSE_MS * 2 ** min(self::MOST_DOUBLINGS, $letter->attempts));

        return $now->since($letter->at)->isLongerThan(Duration::ofHours(self::GIVE_UP_AFTER_HOURS)) ? null : $now->plus(Duration::ofMs($pause));
    }
}
