<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Answer\ShownCredential;
use Olivine\App\Collect\Definition\CredentialFields;
use Olivine\App\Collect\Definition\GroupFields;
use Olivine\App\Collect\Definition\TargetFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Entity\TargetGroup;
use Olivine\App\Collect\Repository\TargetGroupRepository;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Platform\Problem;

/** Takes what people wrote of a target or a group over, after all that can only be told beside what is there. */
final readonly class TargetForm
{
    private const USUAL_SECONDS = 15;
    private const USUAL_TIMEOUT_SECONDS = 10;

    public function __construct(
        private TargetNames $names,
        private TargetRepository $targets,
        private TargetGroupRepository $groups,
        private Credentials $credentials,
        private Reach $reach,
    ) {
    }

    /** @throws Problem naming the field and what it must be */
    public function fill(Target $target, TargetFields $fields): void
    {
        $fields->id === null || throw Problem::field('id', 'There is no field id here');
        $name = $fields->name ?? $target->name;
        if ($target->kind === SourceKind::Pushed) {
            $this->fillPushed($target, $name, $fields);

            return;
        }
        $this->names->take($target, $name);
        $this->fillRequest($target, $fields);
        $target->name = $name;
    }

    /** @throws Problem */
    private function fillPushed(Target $target, string $name, TargetFields $fields): void
    {
        if ($name !== $target->name || $fields->url !== $target->url) {
            throw Problem::field('name', "{$target->name} is the name under which readings are handed in; whoever hands them in gives another one");
        }
        $target->group = $fields->group === null ? null : $this->group($fields->group);
        $target->ownLabels = $fields->labels;
        $target->inherits = [];
        $target->inherit();
    }

    /**
     * All that matters for asking the target; what a test needs.
     *
     * @throws Problem naming the field and what it must be
     */
    public function fillRequest(Target $target, TargetFields $fields): void
    {
        $address = self::address($fields->url);
        $refusal = $this->reach->refuseEarly($address);
        if ($refusal !== null) {
            throw Problem::field('url', $refusal);
        }
        $isElsewhere = $target->credential !== null && !in_array($address->origin(), $target->credentialOrigins, true);
        if ($isElsewhere && $fields->credential === null) {
            throw Problem::field(
                'credential',
                'The address is another server now; enter the credential again, so that it goes to nobody it was not meant for',
            );
        }
        $target->url = $fields->url;
        $target->group = $fields->group === null ? null : $this->group($fields->group);
        $this->fillPace($target, $fields);
        $target->ownLabels = $fields->labels;
        $target->credential = $this->credential($fields->credential, $target->credential);
        if ($target->group !== null && $this->isThatOf($target->group, $target->credential)) {
            // Entered again for this server, so that is one more it is meant for.
            $target->group->credentialOrigins = array_values(
                array_unique([...$target->group->credentialOrigins, $address->origin()]),
            );
            $target->credential = null;
        }
        $target->credentialOrigins = $target->credential === null ? [] : [$address->origin()];
        if ($target->group !== null && $target->credential === null) {
            $target->inherits[] = 'credential';
        }
        $target->inherit();
        if (
            $target->group?->credential !== null
            && $target->inheritsCredential()
            && !in_array($address->origin(), $target->group->credentialOrigins, true)
        ) {
            throw Problem::field(
                'credential',
                "The credential of the group {$target->group->name} was not entered for {$address->origin()}; " .
                    'enter it again here, and it goes there too',
            );
        }
    }

    /**
     * What is left out comes from the group.
     *
     * @throws Problem
     */
    private function fillPace(Target $target, TargetFields $fields): void
    {
        $isAlone = $target->group === null;
        $target->inherits = [];
        if ($fields->intervalSeconds !== null || $isAlone) {
            $target->intervalSeconds = $fields->intervalSeconds ?? self::USUAL_SECONDS;
        } else {
            $target->inherits[] = 'interval';
        }
        if ($fields->timeoutSeconds !== null || $isAlone) {
            $target->timeoutSeconds = self::timeout($fields->timeoutSeconds, $target->intervalSeconds);
        } else {
            $target->inherits[] = 'timeout';
        }
    }

    /** @throws Problem naming the field and what it must be */
    public function fillGroup(TargetGroup $group, GroupFields $fields): void
    {
        $name = TargetNames::wellFormed($fields->name);
        $same = $this->groups->named($name);
        if ($same !== null && $same->id !== $group->id) {
            throw Problem::field('name', "There is a group named {$name} already");
        }
        $group->intervalSeconds = $fields->intervalSeconds;
        $group->timeoutSeconds = self::timeout($fields->timeoutSeconds, $group->intervalSeconds);
        $group->labels = $fields->labels;
        $group->credential = $this->credential($fields->credential, $group->credential);
        if ($fields->credential !== null) {
            $group->credentialOrigins = $group->credential === null || $group->id === null ? [] : $this->originsOf($group);
        }
        $group->name = $name;
    }

    /** What may be shown of a credential. */
    public function shownCredential(?string $sealed): ?ShownCredential
    {
        if ($sealed === null) {
            return null;
        }
        try {
            $credential = $this->credentials->open($sealed);
        } catch (ScrapeRefused) {
            return new ShownCredential(kind: 'lost', name: '');
        }

        return new ShownCredential(
            kind: $credential->kind->value,
            name: $credential->kind === CredentialKind::Certificate ? '' : $credential->name,
        );
    }

    private function isThatOf(TargetGroup $group, ?string $sealed): bool
    {
        return $sealed !== null && $group->credential !== null && $this->credentials->areSame($sealed, $group->credential);
    }

    /** @throws Problem */
    private static function address(string $url): TargetAddress
    {
        try {
            return TargetAddress::of($url);
        } catch (BadAddress $error) {
            throw Problem::field('url', "url {$error->getMessage()}");
        }
    }

    /** @throws Problem */
    private static function timeout(?int $seconds, int $intervalSeconds): int
    {
        $timeout = $seconds ?? min(self::USUAL_TIMEOUT_SECONDS, $intervalSeconds);

        return $timeout <= $intervalSeconds
            ? $timeout
            : throw Problem::field(
                'timeoutSeconds',
                "timeoutSeconds must not be longer than the interval of {$intervalSeconds} s, " .
                    'or the next scrape would be due before this one ended',
            );
    }

    /** @return list<string> of all members, whether they inherit the credential by now or may do so one day */
    private function originsOf(TargetGroup $group): array
    {
        $origins = [];
        foreach ($this->targets->in($group) as $target) {
            try {
                $origins[] = TargetAddress::of($target->url)->origin();
            } catch (BadAddress) {
                // Series from files are asked for nowhere.
            }
        }

        return array_values(array_unique($origins));
    }

    /** @throws Problem */
    private function group(int $id): TargetGroup
    {
        return $this->groups->find($id) ?? throw Problem::field('group', "There is no group {$id}");
    }

    /**
     * @return string|null sealed; one that is not sent stays as it is, one of kind "none" is taken away
     *
     * @throws Problem
     */
    private function credential(?CredentialFields $fields, ?string $kept): ?string
    {
        if ($fields === null) {
            return $kept;
        }
        $kind = $fields->kind->kind();
        if ($kind === null) {
            return null;
        }
        [$name, $secret] = [$fields->name, $fields->secret];
        $fault = match (true) {
            $secret === '' => $kind === CredentialKind::Certificate
                ? 'Enter the private key as PEM text'
                : 'Enter the password, token or value',
            $kind === CredentialKind::Basic && ($name === '' || str_contains($name, ':')) => 'Enter a user name, without a colon',
            $kind === CredentialKind::Header && preg_match('~^[A-Za-z0-9-]{1,100}$~D', $name) !== 1
                => 'Enter the name of the header: letters, digits and -',
            $kind === CredentialKind::Header && preg_match('~^[\x20-\x7E]+$~D', $secret) !== 1
                => 'The value must be one line of plain signs: letters without accents, digits and the like',
            $kind === CredentialKind::Bearer && preg_match('~^[\x21-\x7E]+$~D', $secret) !== 1
                => 'A token has no spaces and no letters beyond ASCII',
            $kind === CredentialKind::Basic && preg_match('~[\x00-\x1F\x7F]~', $name . $secret) === 1
                => 'User and password must be one line each',
            $kind === CredentialKind::Certificate && @openssl_x509_read($name) === false => 'This is no certificate as PEM text',
            $kind === CredentialKind::Certificate && @openssl_pkey_get_private($secret) === false
                => 'This is no private key as PEM text',
            default => null,
        };
        if ($fault !== null) {
            throw Problem::field('credential', $fault);
        }

        return $this->credentials->seal(new Credential($kind, $name, $secret));
    }
}
