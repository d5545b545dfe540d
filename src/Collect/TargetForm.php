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

    public function __construct(private EntityManagerInterface $entities, private Credentials $credentials)
    {
    }

    public function fill(Target $target, Input $input): void
    {
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
        $parts = parse_url($url);
        if ($parts === false || !in_array(strtolower($parts['scheme'] ?? ''), ['http', 'https'], true) || ($parts['host'] ?? '') === '') {
            throw Problem::field('url', 'url must be a whole http or https address, such as http://10.0.4.7:9100/metrics');
        }
        if (isset($parts['user']) || isset($parts['pass'])) {
            throw Problem::field('url', 'url must not hold a user or password; enter them as a credential, where they are kept encrypted');
        }
        if ($target->credential !== null && !$input->has('credential') && self::origin($target->url) !== self::origin($url)) {
            throw Problem::field('credential', 'The address is another server now; enter the credential again, so that it goes to nobody it was not meant for');
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
            $target->timeoutSeconds = min($target->intervalSeconds, $input->whole('timeoutSeconds', 1, 60, 10));
        }
        $target->ownLabels = $input->labels('labels');
        $target->credential = $this->credential($input, $target->credential);
        if ($target->group !== null && $target->credential === null) {
            $target->inherits[] = 'credential';
        }
        $target->settle();
    }

    public function fillGroup(TargetGroup $group, Input $input): void
    {
        $name = $this->name($input, $group->name);
        $same = $this->entities->getRepository(TargetGroup::class)->findOneBy(['name' => $name]);
        if ($same !== null && $same->id !== $group->id) {
            throw Problem::field('name', "There is a group named {$name} already");
        }
        $group->intervalSeconds = $input->whole('intervalSeconds', 5, 3_600, 15);
        $group->timeoutSeconds = min($group->intervalSeconds, $input->whole('timeoutSeconds', 1, 60, 10));
        $group->labels = $input->labels('labels');
        $group->credential = $this->credential($input, $group->credential);
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

        return ['kind' => $credential->kind->value, 'name' => $credential->kind === CredentialKind::Certificate ? '' : $credential->name];
    }

    private static function origin(string $url): string
    {
        $parts = parse_url(strtolower($url));
        $parts = $parts === false ? [] : $parts;

        return ($parts['scheme'] ?? '') . '://' . ($parts['host'] ?? '') . ':' . ($parts['port'] ?? (($parts['scheme'] ?? '') === 'https' ? 443 : 80));
    }

    private function name(Input $input, string $default): string
    {
        $name = $input->text('name', Target::NAME_LENGTH, $default);
        if ($name === '' || preg_match('~^[\p{L}\p{N}][\p{L}\p{N} ._:/-]*$~uD', $name) !== 1) {
            throw Problem::field('name', 'name must begin with a letter or digit; then letters, digits, spaces and . _ : / - may follow');
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
            $secret === '' => $kind === CredentialKind::Certificate ? 'Enter the private key as PEM text' : 'Enter the password, token or value',
            $kind === CredentialKind::Basic && ($name === '' || str_contains($name, ':')) => 'Enter a user name, without a colon',
            $kind === CredentialKind::Header && preg_match('~^[A-Za-z0-9-]{1,100}$~D', $name) !== 1 => 'Enter the name of the header: letters, digits and -',
            $kind === CredentialKind::Header && preg_match('~[\r\n]~', $secret) === 1, $kind === CredentialKind::Bearer && preg_match('~\s~', $secret) === 1 => 'The value must be one line',
            $kind === CredentialKind::Certificate && @openssl_x509_read($name) === false => 'This is no certificate as PEM text',
            $kind === CredentialKind::Certificate && @openssl_pkey_get_private($secret) === false => 'This is no private key as PEM text',
            default => null,
        };
        if ($fault !== null) {
            throw Problem::field('credential', $fault);
        }

        return $this->credentials->seal(new Credential($kind, $name, $secret));
    }
}
