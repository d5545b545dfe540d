<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Answer\ShownContact;
use Olivine\App\Delivery\Channel\ChannelKind;
use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Definition\Arrived;
use Olivine\App\Delivery\Definition\CodeFields;
use Olivine\App\Delivery\Definition\ContactFields;
use Olivine\App\Delivery\Definition\ContactKind;
use Olivine\App\Delivery\Entity\ContactMethod;
use Olivine\App\Delivery\Repository\ContactMethodRepository;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Time\Duration;

/** The ways to reach a person: each is verified by a code that is sent there, and told where it arrived. */
final readonly class Contacts
{
    private const MOST = 5;
    private const CODE_MINUTES = 30;
    private const CODE_AGAIN_SECONDS = 30;
    private const CODE_TRIES = 5;
    /** Whoever adds and removes addresses sends nobody mail without an end. */
    private const CODES_AN_HOUR = 12;
    private const CODES = 'code-';
    private const FAILED_DAYS = 30;

    public function __construct(
        private EntityManagerInterface $entities,
        private ContactMethodRepository $contacts,
        private DeliveryRepository $deliveries,
        private Letters $letters,
        private KeptChannelRepository $channels,
        private Settings $settings,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @return non-empty-list<ShownContact> the address that one signs in with first */
    public function of(Person $person): array
    {
        $kept = $this->contacts->of($person->id());
        $own = array_find($kept, static fn(ContactMethod $one): bool => $one->label === '')
            ?? new ContactMethod($person->id(), MailChannel::NAME, '', '');
        $others = array_values(array_filter($kept, static fn(ContactMethod $one): bool => $one->label !== ''));

        return array_map(fn(ContactMethod $one): ShownContact => $this->shown($one, $person), [$own, ...$others]);
    }

    /** @throws Problem naming the field */
    public function add(ContactFields $fields, Person $person): void
    {
        if (preg_match('~^[\p{L}\p{N}][\p{L}\p{N} ._-]*$~uD', $fields->label) !== 1) {
            throw Problem::field('label', 'label must be letters and digits, such as phone');
        }
        $address = $fields->kind->checked($fields->address);
        $this->codeWay($fields->kind);
        $kept = $this->contacts->of($person->id());
        if (count($kept) >= self::MOST) {
            throw new Problem(409, 'There are ' . self::MOST . ' ways to reach you already, as many as may be; remove one first');
        }
        $isThere = static fn(ContactMethod $one): bool => $one->channel === $fields->kind->value
            && mb_strtolower($one->label) === mb_strtolower($fields->label);
        if (array_any($kept, $isThere)) {
            throw Problem::field('label', "There is one called {$fields->label} already");
        }
        $contact = new ContactMethod($person->id(), $fields->kind->value, $fields->label, $address);
        $this->entities->persist($contact);
        $this->entities->flush();
        $this->audit->record('added a way to reach', "person {$person->email}", null, ['way' => $contact->way(), 'address' => $address]);
        $this->sendCode($contact, $person);
    }

    /** @throws Problem 404, 409 */
    public function remove(int $id, Person $person): void
    {
        $contact = $this->there($id, $person);
        if ($contact->label === '') {
            throw new Problem(409, 'The address that you sign in with stays');
        }
        $this->entities->remove($contact);
        $this->entities->flush();
        $this->audit->record('removed a way to reach', "person {$person->email}", ['way' => $contact->way(), 'address' => $contact->address], null);
    }

    /**
     * @param int $id 0: the address that one signs in with
     *
     * @throws Problem 404; 429 where one was sent just now
     */
    public function sendCodeTo(int $id, Person $person): void
    {
        $this->sendCode($id === 0 ? $this->own($person) : $this->there($id, $person), $person);
    }

    /**
     * A message that lies among junk is not seen at night: the way is not verified then, and it is said whose fault that is likely to be.
     *
     * @throws Problem 404; 422 naming the field
     */
    public function verify(int $id, CodeFields $fields, Person $person): void
    {
        $contact = $id === 0 ? $this->own($person) : $this->there($id, $person);
        $now = $this->clock->now();
        $isOver = $contact->codeAt === null || $now->since($contact->codeAt)->isLongerThan(Duration::ofMinutes(self::CODE_MINUTES));
        if ($isOver || $contact->codeTries >= self::CODE_TRIES) {
            throw Problem::field('code', 'code: there is no code that still counts; have another one sent');
        }
        if (!hash_equals($contact->codeDigest, self::digest($contact, preg_replace('~\D~', '', $fields->code) ?? ''))) {
            ++$contact->codeTries;
            $this->entities->flush();
            throw Problem::field('code', 'code: this is not the code that was sent last');
        }
        $contact->wasJunk = $fields->arrived === Arrived::Junk;
        $contact->verifiedAt = $contact->wasJunk ? null : $now;
        $contact->codeAt = $contact->wasJunk ? $contact->codeAt : null;
        $this->entities->flush();
        $did = $contact->wasJunk ? 'found among junk what was sent to' : 'verified a way to reach';
        $this->audit->record($did, "person {$person->email}", null, ['way' => $contact->way()]);
    }

    /** What is likely to be wrong where mail lies among junk. */
    public function junkWords(): string
    {
        $from = substr((string) strrchr($this->settings->mailFrom(), '@'), 1);
        $host = parse_url($this->settings->mailDsn(), PHP_URL_HOST);
        $server = is_string($host) ? $host : 'the mail server';

        return "What lies among junk is not seen at night, so this way is not verified. Likely the sender is at fault: {$server} is not named in the "
            . "SPF record of {$from}, or signs nothing for it (DKIM). Ask whoever keeps {$from}, then have another code sent.";
    }

    /** @return list<string> the channels that reach a person there */
    private function waysThere(ContactMethod $contact): array
    {
        $kinds = match (ContactKind::from($contact->channel)) {
            ContactKind::Mail => [],
            ContactKind::Phone => [ChannelKind::Sms, ChannelKind::Voice],
            ContactKind::Chat => [ChannelKind::Chat],
        };

        return $kinds === [] ? [$contact->way()] : array_merge(...array_map($this->channels->ofKind(...), $kinds));
    }

    private function shown(ContactMethod $contact, Person $person): ShownContact
    {
        $since = $this->clock->now()->minus(Duration::ofDays(self::FAILED_DAYS));
        $failed = $this->deliveries->lastFailureTo($person->id(), $this->waysThere($contact), $since);

        return new ShownContact(
            id: $contact->id ?? 0,
            kind: ContactKind::from($contact->channel),
            way: $contact->way(),
            label: $contact->label,
            address: $contact->address === '' ? $person->email : $contact->address,
            verifiedAt: $contact->verifiedAt,
            wasJunk: $contact->wasJunk,
            codeIsOut: $contact->codeAt !== null,
            failedAt: $failed === null ? null : $failed[0],
            failedWith: $failed === null ? '' : $failed[1],
        );
    }

    /**
     * @return string the way by which a code goes to such an address
     *
     * @throws Problem 409 where there is none
     */
    private function codeWay(ContactKind $kind): string
    {
        $by = $kind->reachedBy();

        return match (true) {
            $by === null => MailChannel::NAME,
            default => $this->channels->firstOf($by)->name ?? throw new Problem(
                409,
                "There is no {$by->value} channel yet, so no code can be sent there; an administrator adds one under Delivery",
            ),
        };
    }

    /** @throws Problem 409, 429 */
    private function sendCode(ContactMethod $contact, Person $person): void
    {
        $now = $this->clock->now();
        if ($contact->codeAt !== null && !$now->since($contact->codeAt)->isLongerThan(Duration::ofSeconds(self::CODE_AGAIN_SECONDS))) {
            throw new Problem(429, 'A code was sent just now; have another one sent in ' . self::CODE_AGAIN_SECONDS . ' s, if that one does not arrive');
        }
        if ($this->letters->postedTo($person->id(), self::CODES, $now->minus(Duration::ofHours(1))) >= self::CODES_AN_HOUR) {
            throw new Problem(429, 'As many codes as may be were sent within this hour; have another one sent later');
        }
        $code = sprintf('%06d', random_int(0, 999_999));
        $contact->codeDigest = self::digest($contact, $code);
        $contact->codeAt = $now;
        $contact->codeTries = 0;
        $this->entities->flush();
        $text = "{$person->name}, this is the code of Olivine: {$code}\n\n"
            . "Tell it at {$this->settings->publicUrl()}/roster/mine, and where you found this message."
            . "\nIt counts for " . self::CODE_MINUTES . " minutes. Whoever did not ask for it leaves it.\n";
        $this->letters->post(
            $person->id(),
            "{$code} is the code of Olivine",
            $text,
            self::CODES . "{$contact->id()}.{$now->ms}",
            $contact->address,
            $this->codeWay(ContactKind::from($contact->channel)),
        );
    }

    private static function digest(ContactMethod $contact, string $code): string
    {
        return hash('sha256', "{$contact->id()} {$contact->personId} {$code}");
    }

    private function own(Person $person): ContactMethod
    {
        $kept = array_find($this->contacts->of($person->id()), static fn(ContactMethod $one): bool => $one->label === '');
        if ($kept === null) {
            $kept = new ContactMethod($person->id(), MailChannel::NAME, '', '');
            $this->entities->persist($kept);
            $this->entities->flush();
        }

        return $kept;
    }

    /** @throws Problem 404 */
    private function there(int $id, Person $person): ContactMethod
    {
        $contact = $this->contacts->find($id);

        return $contact !== null && $contact->personId === $person->id ? $contact : throw new Problem(404, 'There is no such way to reach you');
    }
}
