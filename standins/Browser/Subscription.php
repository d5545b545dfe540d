<?php

declare(strict_types=1);

namespace Olivine\Standin\Browser;

use Olivine\Server\Request;

/**
 * A browser and its push service in one: it has a key of its own, says where it can be told, and reads what arrives there, as RFC 8291
 * and RFC 8292 have it.
 */
final readonly class Subscription
{
    private const SPKI = '3059301306072a8648ce3d020106082a8648ce3d030107034200';

    private function __construct(private string $private, public string $public, public string $auth)
    {
    }

    /** The same however often it begins. */
    public static function kept(string $file): self
    {
        if (!is_file($file)) {
            $key = openssl_pkey_new(['curve_name' => 'prime256v1', 'private_key_type' => OPENSSL_KEYTYPE_EC]);
            $pem = '';
            if ($key === false || !openssl_pkey_export($key, $pem)) {
                throw new \RuntimeException('No key can be made');
            }
            file_put_contents($file, json_encode(['key' => $pem, 'auth' => base64_encode(random_bytes(16))]));
        }
        $kept = json_decode((string) file_get_contents($file), true);
        $pem = is_array($kept) && is_string($kept['key'] ?? null) ? $kept['key'] : '';
        $auth = is_array($kept) && is_string($kept['auth'] ?? null) ? $kept['auth'] : '';
        $private = openssl_pkey_get_private($pem);
        $details = $private === false ? false : openssl_pkey_get_details($private);
        $curve = is_array($details) && is_array($details['ec'] ?? null) ? $details['ec'] : [];
        $part = static fn(string $name): string => str_pad(is_string($curve[$name] ?? null) ? $curve[$name] : '', 32, "\0", STR_PAD_LEFT);

        return new self($pem, "\x04" . $part('x') . $part('y'), (string) base64_decode($auth, true));
    }

    /** @return string|null why it is from nobody that is known; null where it is signed */
    public function refusal(Request $request, string $origin): ?string
    {
        if (preg_match('~^vapid t=([\w-]+)\.([\w-]+)\.([\w-]+), k=([\w-]+)$~D', $request->headers['authorization'] ?? '', $part) !== 1) {
            return 'There is no vapid authorization';
        }
        $claims = json_decode(self::bytes($part[2]), true);
        $claims = is_array($claims) ? $claims : [];
        $signature = self::bytes($part[3]);
        $key = openssl_pkey_get_public(self::pem(self::bytes($part[4])));
        $isSigned = $key !== false && strlen($signature) === 64
            && openssl_verify("{$part[1]}.{$part[2]}", self::der($signature), $key, OPENSSL_ALGO_SHA256) === 1;

        return match (true) {
            !$isSigned => 'It is not signed by that key',
            ($claims['aud'] ?? '') !== $origin => "It is for {$origin} only",
            !is_int($claims['exp'] ?? null) || $claims['exp'] < time() || $claims['exp'] > time() + 86_400 => 'It holds for too long, or no more',
            default => null,
        };
    }

    /** @return string|null what it says; null where it cannot be read */
    public function read(string $body): ?string
    {
        if (strlen($body) < 103) {
            return null;
        }
        [$salt, $length] = [substr($body, 0, 16), ord($body[20])];
        $sender = substr($body, 21, $length);
        $other = openssl_pkey_get_public(self::pem($sender));
        $own = openssl_pkey_get_private($this->private);
        $agreed = $other === false || $own === false ? false : openssl_pkey_derive($other, $own, 32);
        if ($agreed === false) {
            return null;
        }
        $material = hash_hkdf('sha256', $agreed, 32, "WebPush: info\0{$this->public}{$sender}", $this->auth);
        $key = hash_hkdf('sha256', $material, 16, "Content-Encoding: aes128gcm\0", $salt);
        $nonce = hash_hkdf('sha256', $material, 12, "Content-Encoding: nonce\0", $salt);
        $text = openssl_decrypt(substr($body, 21 + $length, -16), 'aes-128-gcm', $key, OPENSSL_RAW_DATA, $nonce, substr($body, -16));

        return $text === false ? null : rtrim($text, "\x02");
    }

    public static function text(string $bytes): string
    {
        return rtrim(strtr(base64_encode($bytes), '+/', '-_'), '=');
    }

    private static function bytes(string $text): string
    {
        return (string) base64_decode(strtr($text, '-_', '+/'), true);
    }

    private static function pem(string $public): string
    {
        return "-----BEGIN PUBLIC KEY-----\n" . base64_encode(hex2bin(self::SPKI) . $public) . "\n-----END PUBLIC KEY-----\n";
    }

    /** Two numbers of 32 bytes, as openssl reads a signature. */
    private static function der(string $signature): string
    {
        $number = static function (string $bytes): string {
            $bytes = ltrim($bytes, "\0");
            $bytes = $bytes === '' || ord($bytes[0]) > 127 ? "\0{$bytes}" : $bytes;

            return "\x02" . chr(strlen($bytes)) . $bytes;
        };
        $both = $number(substr($signature, 0, 32)) . $number(substr($signature, 32));

        return "\x30" . chr(strlen($both)) . $both;
    }
}
