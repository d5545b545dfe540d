<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\BadAddress;
use Olivine\App\Collect\Definition\CheckFields;
use Olivine\App\Collect\Definition\DnsFields;
use Olivine\App\Collect\Definition\HttpFields;
use Olivine\App\Collect\Definition\LoggedIn;
use Olivine\App\Collect\Definition\MailFields;
use Olivine\App\Collect\Definition\PingFields;
use Olivine\App\Collect\Definition\ReplicationFields;
use Olivine\App\Collect\Definition\SqlFields;
use Olivine\App\Collect\Definition\TcpFields;
use Olivine\App\Collect\Definition\TlsFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Reach;
use Olivine\App\Collect\Repository\PlaceRepository;
use Olivine\App\Collect\TargetAddress;
use Olivine\App\Collect\TargetNames;
use Olivine\App\Platform\Problem;
use Olivine\Core\Check\Http\HttpCheck;
use Olivine\Core\Check\Http\HttpStep;
use Olivine\Core\Check\Http\Taken;

/** Takes what people wrote of a check over, after all that can only be told beside what is there. */
final readonly class CheckForm
{
    public function __construct(
        private TargetNames $names,
        private PlaceRepository $places,
        private CheckSecrets $secrets,
        private Logins $logins,
        private Reach $reach,
    ) {
    }

    /** @throws Problem naming the field and what it must be */
    public function fill(Target $target, CheckFields $fields): void
    {
        $fields->id === null || throw Problem::field('id', 'There is no field id here');
        $this->names->take($target, $fields->name);
        $known = $this->places->names();
        foreach ($fields->places as $place) {
            isset($known[$place]) || throw Problem::field('places', "There is no place {$place}");
        }
        $this->fillAsks($target, $fields);
        $target->name = $fields->name;
        $target->isReference = $fields->isReference;
    }

    /**
     * All that matters for asking; what a trial needs.
     *
     * @throws Problem naming the field and what it must be
     */
    public function fillAsks(Target $target, CheckFields $fields): void
    {
        $asks = $fields->asks;
        if ($target->asks !== null && $target->kind !== $asks->kind()) {
            throw Problem::field('asks', 'A check stays what it is, since its readings would be of two things; add another one');
        }
        match (true) {
            $asks instanceof HttpFields => $this->secrets->seal(
                $target,
                $this->opened($target, $fields, HttpChecks::check($asks, $fields->slowMs)),
            ),
            $asks instanceof TcpFields => $this->mayBeAsked($asks->host, $asks->port, SocketChecks::tcp($asks, $fields->slowMs)),
            $asks instanceof TlsFields => $this->mayBeAsked($asks->host, $asks->port, SocketChecks::tls($asks)),
            $asks instanceof DnsFields => SocketChecks::dns($asks, $fields->slowMs),
            $asks instanceof PingFields => $this->mayBeAsked($asks->host, 80, SocketChecks::ping($asks, $fields->slowMs)),
            $asks instanceof SqlFields => $this->mayBeAsked($asks->host, $asks->port(), SqlAsker::check($asks, $fields->slowMs)),
            $asks instanceof MailFields => $this->mailMayBeAsked($asks, $fields),
            $asks instanceof ReplicationFields => $this->partnersMayBeAsked($asks, ReplicationAsker::check($asks, $fields->slowMs)),
            default => throw new \LogicException('Nobody knows how to ask that'),
        };
        if ($asks instanceof LoggedIn) {
            $this->secrets->seal($target, $this->logins->entered($target, $fields, $asks));
        }
        /** @var array<string, mixed> $kept */
        $kept = json_decode(json_encode($asks, JSON_THROW_ON_ERROR), true, 16, JSON_THROW_ON_ERROR);
        $target->kind = $asks->kind();
        $target->asks = $kept;
        $target->url = mb_substr($asks->address(), 0, 2_000);
        $target->intervalSeconds = $fields->intervalSeconds;
        $target->slowMs = $fields->slowMs;
        $target->places = $fields->places;
        $target->group = null;
        $target->ownLabels = $fields->labels;
        $target->inherit();
    }

    /** @throws Problem where it leads to where Olivine may not ask */
    private function mayBeAsked(string $host, int $port, object $check): object
    {
        $refusal = $this->reach->refuseEarly(SocketChecks::address($host, $port));

        return $refusal === null ? $check : throw Problem::field('asks.host', $refusal);
    }

    /** @throws Problem */
    private function partnersMayBeAsked(ReplicationFields $asks, object $check): object
    {
        foreach ($asks->partners as $i => $partner) {
            $refusal = $this->reach->refuseEarly(SocketChecks::address($partner->host, $asks->portOf($partner)));
            if ($refusal !== null) {
                throw Problem::field("asks.partners[{$i}].host", $refusal);
            }
        }

        return $this->mayBeAsked($asks->host, $asks->port(), $check);
    }

    /** @throws Problem */
    private function mailMayBeAsked(MailFields $asks, CheckFields $fields): void
    {
        MailAsker::check($asks, $fields->slowMs);
        if ($asks->seenWithinSeconds > $fields->intervalSeconds) {
            throw Problem::field('asks.seenWithinSeconds', 'A letter may not be on its way for longer than until the next one is sent');
        }
        $refusal = $this->reach->refuseEarly(SocketChecks::address($asks->mailboxHost, $asks->mailboxPort(), 'mailboxHost'));
        if ($refusal !== null) {
            throw Problem::field('asks.mailboxHost', $refusal);
        }
        $this->mayBeAsked($asks->host, $asks->port(), $asks);
    }

    /**
     * The secrets, those that are not sent as they were; and to which servers they may go: those that the steps they are
     * filled into name as they were entered.
     *
     * @throws Problem
     */
    private function opened(Target $target, CheckFields $fields, HttpCheck $check): OpenSecrets
    {
        $before = $this->secrets->open($target);
        $values = [];
        foreach ($fields->secrets as $secret) {
            if (preg_match(Taken::NAME, $secret->name) !== 1) {
                throw Problem::field('secrets', "A secret needs a plain name such as password: small letters, digits and _, not {$secret->name}");
            }
            $value = $secret->value ?? $before->values[$secret->name] ?? '';
            if ($value === '' || preg_match('~[\x00-\x08\x0A-\x1F\x7F]~', $value) === 1) {
                throw Problem::field('secrets', "Enter the secret {$secret->name}, as one line");
            }
            $values[$secret->name] = $value;
        }
        $origins = $this->origins($check, array_keys($values));
        $elsewhere = array_diff($origins, $before->origins);
        if ($elsewhere !== [] && !array_all($fields->secrets, static fn($one): bool => $one->value !== null || !self::isFilledIn($check, $one->name))) {
            $where = implode(', ', $elsewhere);
            throw Problem::field(
                'secrets',
                "They would go to another server now, {$where}; enter them again, so that they go to nobody they were not meant for",
            );
        }

        return new OpenSecrets($values, $origins);
    }

    private static function isFilledIn(HttpCheck $check, string $name): bool
    {
        return array_any($check->steps, static fn(HttpStep $step): bool => in_array($name, $step->holes(), true));
    }

    /**
     * Looks at each address on the way, and at what is filled in where.
     *
     * @param list<string> $secrets
     *
     * @return list<string>
     *
     * @throws Problem
     */
    private function origins(HttpCheck $check, array $secrets): array
    {
        [$origins, $known] = [[], $secrets];
        foreach ($check->steps as $i => $step) {
            $holes = $step->holes();
            $unknown = array_diff($holes, $known);
            if ($unknown !== []) {
                $name = (string) reset($unknown);
                throw Problem::field("asks.steps[{$i}]", "Nothing is known as {$name} here: take it from an answer before, or add it to the secrets");
            }
            $known = [...$known, ...array_column($step->takes, 'name')];
            $isTaken = preg_match('~^\{[a-z]~', $step->url) === 1;
            if ($isTaken && $i > 0) {
                if (array_intersect($holes, $secrets) !== []) {
                    throw Problem::field("asks.steps[{$i}].url", 'An address that is taken from an answer may lead anywhere; no secret goes there');
                }
                continue;
            }
            $origin = $this->origin($step, $i);
            if (array_intersect($holes, $secrets) !== []) {
                $origins[] = $origin;
            }
        }

        return array_values(array_unique($origins));
    }

    /** @throws Problem */
    private function origin(HttpStep $step, int $i): string
    {
        try {
            // What is filled in is escaped, so it changes neither host nor port.
            $address = TargetAddress::of((string) preg_replace(HttpStep::HOLE, 'x', $step->url));
        } catch (BadAddress $error) {
            throw Problem::field("asks.steps[{$i}].url", "url {$error->getMessage()}");
        }
        if (preg_match('~^[a-z]+://[^/?#]*\{~i', $step->url) === 1) {
            throw Problem::field("asks.steps[{$i}].url", 'Host and port are written out; only what comes behind them is filled in');
        }
        $refusal = $this->reach->refuseEarly($address);

        return $refusal === null ? $address->origin() : throw Problem::field("asks.steps[{$i}].url", $refusal);
    }
}
