<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Entity\TargetGroup;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;

/** What people enter for a target or a group, checked field by field. */
final readonly class TargetForm
{
    private const LONGEST_SECRET = 20_000;
    private const REQUEST = ['url', 'group', 'intervalSeconds', 'timeoutSeconds', 'labels', 'credential'];

    public function __construct(
        private EntityManagerInterface $entities,
        private Credentials $credentials,
        private Reach $reach,
    ) {
    }

    public function fill(Target $target, Input $input): void
    {
        $input->onlyKnows([...self::REQUEST, 'name', 'version']);
        $name = $this->name($input, $target->name);
        $same = $this->entities->getRepository(Target::class)->findOneBy(['name' => $name]);
        if ($same !== null && $same->id !== $target->id) {
            if ($same->removedAt === null) {
                throw Problem::field('name', "There is a target named {$name} already");
            }
            $same->name = mb_substr("{$name} (removed {$same->id})", 0, Target::NAME_LENGTH);
            $this->entities->flush();
        }
        $this->fillRequest($target, $input);
        $target->name = $name;
    }

    /** All that matters for asking the target; what a test needs. */
    public function fillRequest(Target $target, Input $input): void
    {
        $url = $input->text('url', 2_000, shortest: 1);
        $address = self::address($url);
        $refusal = $this->reach->refuseEarly($address);
        if ($refusal !== null) {
            throw Problem::field('url', $refusal);
        }
        if (
            $target->credential !== null
            && !$input->has('credential')
            && !in_array($address->origin(), $target->credentialOrigins, true)
        ) {
            throw Problem::field(
                'credential',
                'The address is another server now; enter the credential again, so that it goes to nobody it was not meant for',
            );
        }
        $target->url = $url;
        $target->group = $input->has('group') ? $this->group($input->whole('group', 1, PHP_INT_MAX)) : null;
        $target->inherits = [];
        if ($target->group !== null && !$input->has('intervalSeconds')) {
            $target->inherits[] = 'interval';
        } else {
            $target->intervalSeconds = $input->whole('intervalSeconds', 5, 3_600, 15);
        }
        if ($target->group !== null && !$input->has('timeoutSeconds')) {
            $target->inherits[] = 'timeout';
        } else {
            $target->timeoutSeconds = self::timeout($input, $target->intervalSeconds);
        }
        $target->ownLabels = $input->labels('labels');
        $target->credential = $this->credential($input, $target->credential);
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
        $target->settle();
        if (
            $target->group?->credential !== null
            && $target->inheritsCredential()
            && !in_array($address->origin(), $target->group->credentialOrigins, true)
        ) {
            throw Problem::field(
                'credential',
                "The credential of the group {$target->group->name} was not entered for {$address->origin()}; enter it again here, and it goes there too",
            );
        }
    }

    public function fillGroup(TargetGroup $group, Input $input): void
    {
        $input->onlyKnows(['name', 'intervalSeconds', 'timeoutSeconds', 'labels', 'credential', 'version']);
        $name = $this->name($input, $group->name);
        $same = $this->entities->getRepository(TargetGroup::class)->findOneBy(['name' => $name]);
        if ($same !== null && $same->id !== $group->id) {
            throw Problem::field('name', "There is a group named {$name} already");
        }
        $group->intervalSeconds = $input->whole('intervalSeconds', 5, 3_600, 15);
        $group->timeoutSeconds = self::timeout($input, $group->intervalSeconds);
        $group->labels = $input->labels('labels');
        $group->credential = $this->credential($input, $group->credential);
        if ($input->has('credential')) {
            $group->credentialOrigins = $group->credential === null || $group->id === null ? [] : $this->originsOf($group);
        }
        $group->name = $name;
    }

    /**
     * What may be shown of a credential.
     *
     * @return array{kind: string, name: string}|null
     */
    public function shownCredential(?string $sealed): ?array
    {
        if ($sealed === null) {
            return null;
        }
        try {
            $credential = $this->credentials->open($sealed);
        } catch (ScrapeRefused) {
            return ['kind' => 'lost', 'name' => ''];
        }

        return [
            'kind' => $credential->kind->value,
            'name' => $credential->kind === CredentialKind::Certificate ? '' : $credential->name,
        ];
    }

    private function isThatOf(TargetGroup $group, ?string $sealed): bool
    {
        return $sealed !== null && $group->credential !== null && $this->credentials->areSame($sealed, $group->credential);
    }

    private static function address(string $url): TargetAddress
    {
        try {
            return TargetAddress::of($url);
        } catch (BadAddress $error) {
            throw Problem::field('url', "url {$error->getMessage()}");
        }
    }

    private static function timeout(Input $input, int $intervalSeconds): int
    {
        $timeout = $input->whole('timeoutSeconds', 1, 60, min(10, $intervalSeconds));

        return $timeout <= $intervalSeconds
            ? $timeout
            : throw Problem::field(
                'timeoutSeconds',
                "timeoutSeconds must not be longer than the interval of {$intervalSeconds} s, or the next scrape would be due before this one ended",
            );
    }

    /** @return list<string> of all members, whether they inherit the credential by now or may do so one day */
    private function originsOf(TargetGroup $group): array
    {
        $origins = [];
        foreach ($this->entities->getRepository(Target::class)->findBy(['group' => $group, 'removedAt' => null]) as $target) {
            try {
                $origins[] = TargetAddress::of($target->url)->origin();
            } catch (BadAddress) {
                // Series from files are asked for nowhere.
            }
        }

        return array_values(array_unique($origins));
    }

    private function name(Input $input, string $default): string
    {
        $name = $input->text('name', Target::NAME_LENGTH, $default);
        if ($name === '' || preg_match(Target::NAME, $name) !== 1) {
            throw Problem::field(
                'name',
                'name must begin with a letter or digit; then letters, digits, spaces and . _ : / - may follow',
            );
        }

        return $name;
    }

    private function group(int $id): TargetGroup
    {
        return $this->entities->find(TargetGroup::class, $id) ?? throw Problem::field('group', "There is no group {$id}");
    }

    /** A credential that is not sent stays as it is; one of kind "none" is taken away. */
    private function credential(Input $input, ?string $kept): ?string
    {
        if (!$input->has('credential')) {
            return $kept;
        }
        $fields = $input->part('credential');
        if ($fields->text('kind', 20) === 'none') {
            return null;
        }
        $kind = $fields->oneOf('kind', CredentialKind::class);
        $name = $fields->text('name', self::LONGEST_SECRET, '');
        $secret = $fields->secret('secret', self::LONGEST_SECRET);
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
