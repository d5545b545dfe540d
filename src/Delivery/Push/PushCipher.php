<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Push;

/**
 * Seals a message so that only the browser that it is for can read it, and the service in between cannot: RFC 8291 over the content
 * coding aes128gcm of RFC 8188, in one record.
 */
final readonly class PushCipher
{
    private const RECORD_BYTES = 4_096;
    /** A record holds its end mark and its tag too. */
    public const MOST_BYTES = self::RECORD_BYTES - 103;
    private const SALT_BYTES = 16;
    private const LAST_RECORD = "\x02";

    /**
     * @param string $browser the public key of the browser, 65 bytes
     * @param string $auth    that it gave beside, 16 bytes
     * @param EcKey  $own     made for this message alone
     * @param string $salt    16 bytes
     */
    public static function sealed(string $text, string $browser, string $auth, EcKey $own, string $salt): string
    {
        $mac = static fn(string $key, string $data): string => hash_hmac('sha256', $data, $key, true);
        $agreed = $mac($auth, $own->agreedWith($browser));
        $material = $mac($agreed, "WebPush: info\0{$browser}{$own->public}\x01");
        $random = $mac($salt, $material);
        $key = substr($mac($random, "Content-Encoding: aes128gcm\0\x01"), 0, 16);
        $nonce = substr($mac($random, "Content-Encoding: nonce\0\x01"), 0, 12);
        $tag = '';
        $sealed = openssl_encrypt($text . self::LAST_RECORD, 'aes-128-gcm', $key, OPENSSL_RAW_DATA, $nonce, $tag);
        if ($sealed === false || !is_string($tag)) {
            throw new \RuntimeException('It cannot be sealed: ' . openssl_error_string());
        }

        return $salt . pack('N', self::RECORD_BYTES) . chr(strlen($own->public)) . $own->public . $sealed . $tag;
    }

    public static function salt(): string
    {
        return random_bytes(self::SALT_BYTES);
    }
}
