<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

/** The certificates that lie in the proxies' folder at Saltmarsh Ferries, made anew with each demo: one that must be renewed soon among them. */
final class DemoCertificates
{
    /** @var array<string, int> name → days that are left */
    private const ALL = ['tickets.saltmarsh.example' => 9, 'crew.saltmarsh.example' => 61, 'tides.saltmarsh.example' => 204];

    public function make(string $folder): void
    {
        foreach (self::ALL as $name => $days) {
            $key = openssl_pkey_new(['private_key_type' => OPENSSL_KEYTYPE_EC, 'curve_name' => 'prime256v1']);
            $request = $key === false ? false : openssl_csr_new(['CN' => $name, 'O' => 'Saltmarsh Ferries'], $key);
            $signed = $key === false || is_bool($request) ? false : openssl_csr_sign($request, null, $key, $days, ['digest_alg' => 'sha256']);
            if ($signed === false || !openssl_x509_export($signed, $text)) {
                throw new \RuntimeException("No certificate could be made for {$name}: " . openssl_error_string());
            }
            file_put_contents("{$folder}/{$name}.pem", $text);
            chmod("{$folder}/{$name}.pem", 0o644);
        }
    }
}
