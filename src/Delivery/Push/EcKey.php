<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Push;

/** Keys of the curve P-256, as web push carries them: public ones as 65 bytes, uncompressed. */
final readonly class EcKey
{
    private const LENGTH = 65;
    private const UNCOMPRESSED = "\x04";
    /** What stands before such a key in X.509: that it is one of this curve (RFC 5480, 2.1.1). */
    private const SPKI = '3059301306072a8648ce3d020106082a8648ce3d030107034200';

    private function __construct(public string $private, public string $public)
    {
    }

    public static function made(): self
    {
        $key = openssl_pkey_new(['curve_name' => 'prime256v1', 'private_key_type' => OPENSSL_KEYTYPE_EC]);
        $pem = '';
        if ($key === false || !openssl_pkey_export($key, $pem) || !is_string($pem)) {
            throw new \RuntimeException('No key can be made: ' . openssl_error_string());
        }

        return self::ofPem($pem);
    }

    public static function ofPem(#[\SensitiveParameter] string $pem): self
    {
        $key = openssl_pkey_get_private($pem);
        $of = $key === false ? false : openssl_pkey_get_details($key);
        $curve = is_array($of) && is_array($of['ec'] ?? null) ? $of['ec'] : [];
        $part = static fn(string $name): string => str_pad(is_string($curve[$name] ?? null) ? $curve[$name] : '', 32, "\0", STR_PAD_LEFT);

        return new self($pem, self::UNCOMPRESSED . $part('x') . $part('y'));
    }

    /** Whether these bytes are a public key that a secret can be agreed with. */
    public static function isPublic(string $bytes): bool
    {
        $isShaped = strlen($bytes) === self::LENGTH && $bytes[0] === self::UNCOMPRESSED;

        return $isShaped && openssl_pkey_get_public(self::pem($bytes)) !== false;
    }

    /** What both sides know alone (ECDH), 32 bytes. */
    public function agreedWith(string $public): string
    {
        $other = openssl_pkey_get_public(self::pem($public));
        $own = openssl_pkey_get_private($this->private);
        $agreed = $other === false || $own === false ? false : openssl_pkey_derive($other, $own, 32);

        return $agreed === false ? throw new \RuntimeException('No secret can be agreed on: ' . openssl_error_string()) : $agreed;
    }

    private static function pem(string $public): string
    {
        $der = hex2bin(self::SPKI) . $public;

        return "-----BEGIN PUBLIC KEY-----\n" . chunk_split(base64_encode($der), 64, "\n") . "-----END PUBLIC KEY-----\n";
    }
}
