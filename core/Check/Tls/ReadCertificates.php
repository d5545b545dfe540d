<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Tls;

/** Certificates as OpenSSL reads them. */
final class ReadCertificates
{
    private const KINDS = [OPENSSL_KEYTYPE_RSA => 'RSA', OPENSSL_KEYTYPE_DSA => 'DSA', OPENSSL_KEYTYPE_EC => 'EC'];
    private const MOST_NAMES = 200;

    public static function read(\OpenSSLCertificate $certificate): ?Certificate
    {
        $parsed = openssl_x509_parse($certificate);
        $key = openssl_pkey_get_public($certificate);
        $details = $key === false ? false : openssl_pkey_get_details($key);
        if ($parsed === false) {
            return null;
        }
        $subject = is_array($parsed['subject'] ?? null) ? $parsed['subject'] : [];
        $extensions = is_array($parsed['extensions'] ?? null) ? $parsed['extensions'] : [];

        return new Certificate(
            subject: self::name($subject),
            issuer: self::name(is_array($parsed['issuer'] ?? null) ? $parsed['issuer'] : []),
            names: self::names(self::text($extensions['subjectAltName'] ?? ''), self::text($subject['CN'] ?? '')),
            fromMs: 1000 * self::whole($parsed['validFrom_time_t'] ?? 0),
            untilMs: 1000 * self::whole($parsed['validTo_time_t'] ?? 0),
            keyKind: self::KINDS[is_array($details) ? self::whole($details['type'] ?? -1) : -1] ?? 'other',
            keyBits: is_array($details) ? self::whole($details['bits'] ?? 0) : 0,
            signed: self::text($parsed['signatureTypeSN'] ?? ''),
        );
    }

    /**
     * All that stand in a text: PEM as it is, or as the values of a cluster's secrets (`tls.crt: LS0t…`, YAML or JSON).
     *
     * @return list<Certificate>
     */
    public static function all(string $text): array
    {
        preg_match_all('~(?:tls|ca)\.crt"?\s*:\s*"?([A-Za-z0-9+/=]{64,})~', $text, $packed);
        $text .= "\n" . implode("\n", array_map(static fn(string $one): string => (string) base64_decode($one, true), $packed[1]));
        preg_match_all('~-----BEGIN CERTIFICATE-----[^-]{1,60000}-----END CERTIFICATE-----~', $text, $blocks);
        $found = [];
        foreach (array_unique($blocks[0]) as $block) {
            $certificate = @openssl_x509_read($block);
            $read = $certificate === false ? null : self::read($certificate);
            if ($read !== null) {
                $found[] = $read;
            }
        }

        return $found;
    }

    public static function words(Certificate $one): string
    {
        $day = static fn(int $ms): string => gmdate('Y-m-d H:i', intdiv($ms, 1000));

        return "{$one->subject}\nfor " . implode(', ', $one->names) . "\nfrom {$one->issuer}, {$day($one->fromMs)} to {$day($one->untilMs)} UTC" .
            "\n{$one->keyKind} {$one->keyBits} bits, signed with {$one->signed}";
    }

    /** @param array<array-key, mixed> $parts */
    private static function name(array $parts): string
    {
        $common = $parts['CN'] ?? $parts['O'] ?? reset($parts);

        return mb_substr(mb_scrub(is_array($common) ? self::text(reset($common)) : self::text($common === false ? '' : $common)), 0, 200);
    }

    /** @return list<string> where there are alternative names, the common one does not count */
    private static function names(string $alternative, string $common): array
    {
        preg_match_all('~(?:DNS|IP Address):([^,\s]+)~', $alternative, $found);

        return array_slice($found[1] !== [] ? $found[1] : array_filter([$common], static fn(string $one): bool => $one !== ''), 0, self::MOST_NAMES);
    }

    private static function text(mixed $value): string
    {
        return is_scalar($value) ? (string) $value : '';
    }

    private static function whole(mixed $value): int
    {
        return is_numeric($value) ? (int) $value : 0;
    }
}
