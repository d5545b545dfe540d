<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Seals credentials for the database (XSalsa20-Poly1305 under a key made of the instance's secret) and opens them for a request. */
final readonly class Credentials
{
    private string $key;

    public function __construct(
        #[Autowire('%env(APP_SECRET)%')]
        #[\SensitiveParameter]
        string $secret,
        #[Autowire('%env(OLIVINE_WORK_DIR)%')]
        private string $workDir,
    ) {
        $this->key = hash_hkdf('sha256', $secret, SODIUM_CRYPTO_SECRETBOX_KEYBYTES, 'credentials of targets');
    }

    public function seal(Credential $credential): string
    {
        return $this->sealText(
            json_encode(
                ['kind' => $credential->kind->value, 'name' => $credential->name, 'secret' => $credential->secret],
                JSON_THROW_ON_ERROR,
            ),
        );
    }

    /** @throws ScrapeRefused where it was sealed under another secret */
    public function open(string $sealed): Credential
    {
        $plain = $this->plainText($sealed);
        if ($plain === null) {
            throw new ScrapeRefused(
                'The credential of this target cannot be opened: the secret of this instance has changed; enter the credential again',
            );
        }
        /** @var array{kind: string, name: string, secret: string} $fields */
        $fields = json_decode($plain, true, 4, JSON_THROW_ON_ERROR);

        return new Credential(CredentialKind::from($fields['kind']), $fields['name'], $fields['secret']);
    }

    /** Text that must not be read from the database alone. */
    public function sealText(#[\SensitiveParameter] string $text): string
    {
        $nonce = random_bytes(SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);

        return base64_encode($nonce . sodium_crypto_secretbox($text, $nonce, $this->key));
    }

    /** @return string "" where it was sealed under another secret */
    public function openText(string $sealed): string
    {
        return $this->plainText($sealed) ?? '';
    }

    private function plainText(string $sealed): ?string
    {
        $bytes = (string) base64_decode($sealed, true);
        if (strlen($bytes) <= SODIUM_CRYPTO_SECRETBOX_NONCEBYTES) {
            return null;
        }
        $plain = sodium_crypto_secretbox_open(
            substr($bytes, SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            substr($bytes, 0, SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            $this->key,
        );

        return $plain === false ? null : $plain;
    }

    public function areSame(string $one, string $other): bool
    {
        try {
            return hash_equals(self::plain($this->open($one)), self::plain($this->open($other)));
        } catch (ScrapeRefused) {
            return false;
        }
    }

    private static function plain(Credential $credential): string
    {
        return json_encode([$credential->kind->value, $credential->name, $credential->secret], JSON_THROW_ON_ERROR);
    }

    /**
     * What goes with a request.
     *
     * @return array<string, mixed> options of the HTTP client
     *
     * @throws ScrapeRefused where an answer goes past a limit of the target or cannot be read
     */
    public function options(?string $sealed): array
    {
        if ($sealed === null) {
            return [];
        }
        $credential = $this->open($sealed);

        return match ($credential->kind) {
            CredentialKind::Basic => ['auth_basic' => [$credential->name, $credential->secret]],
            CredentialKind::Bearer => ['auth_bearer' => $credential->secret],
            CredentialKind::Header => ['headers' => [$credential->name => $credential->secret]],
            CredentialKind::Certificate => [
                'local_cert' => $this->file($credential->name),
                'local_pk' => $this->file($credential->secret),
            ],
        };
    }

    /** The client takes certificates from files only. */
    private function file(#[\SensitiveParameter] string $pem): string
    {
        $path = "{$this->workDir}/" . hash_hmac('sha256', $pem, $this->key) . '.pem';
        if (!is_file($path)) {
            if (!is_dir($this->workDir)) {
                mkdir($this->workDir, 0o700, true);
            }
            touch($path);
            chmod($path, 0o600);
            file_put_contents($path, $pem);
        }

        return $path;
    }
}
