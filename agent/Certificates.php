<?php

declare(strict_types=1);

namespace Olivine\Agent;

use Olivine\Core\Check\Tls\Certificate;
use Olivine\Core\Check\Tls\ReadCertificates;
use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\TextWriter;

/**
 * When the certificates in files of this machine end: PEM, or the secrets of a cluster as YAML or JSON. A file is read again where it changed.
 *
 * Of a folder each file that ends in .pem, .crt, .cer, .yaml, .yml or .json; or the files that fit a pattern such as `/etc/proxy/*.pem`.
 */
final class Certificates
{
    private const MOST_FILES = 1_000;
    private const MOST_BYTES = 1_000_000;
    private const ENDINGS = '{pem,crt,cer,yaml,yml,json}';

    /** @var array<string, array{string, list<Certificate>}> file → how it was when it was read, and what stands in it */
    private array $read = [];

    /** @param list<string> $patterns */
    public function __construct(private readonly array $patterns)
    {
    }

    public function write(TextWriter $writer): void
    {
        if ($this->patterns === []) {
            return;
        }
        [$ends, $without] = [[], []];
        foreach ($this->files() as $file) {
            $found = $this->in($file);
            foreach ($found as $one) {
                $labels = ['file' => $file] + $one->labels();
                $key = implode("\n", $labels);
                // Of two that cannot be told apart, the earlier.
                $ends[$key] = [$labels, min($ends[$key][1] ?? INF, $one->untilMs / 1000)];
            }
            $without[] = [['file' => $file], (int) ($found === [])];
        }
        $writer
            ->family(Certificate::END, MetricType::Gauge, 'seconds', Certificate::END_HELP, array_values($ends))
            ->family('certificate_file_unread', MetricType::Gauge, '', '1 where no certificate could be read from a file', $without);
    }

    /** @return list<string> */
    private function files(): array
    {
        $files = [];
        foreach ($this->patterns as $pattern) {
            $found = glob(is_dir($pattern) ? rtrim($pattern, '/') . '/*.' . self::ENDINGS : $pattern, GLOB_BRACE);
            $files = [...$files, ...array_filter($found ?: [], is_file(...))];
        }

        return array_slice(array_values(array_unique($files)), 0, self::MOST_FILES);
    }

    /** @return list<Certificate> */
    private function in(string $file): array
    {
        clearstatcache(true, $file);
        $state = filemtime($file) . ' ' . filesize($file) . ' ' . fileinode($file);
        if (($this->read[$file][0] ?? null) !== $state) {
            $this->read[$file] = [$state, ReadCertificates::all((string) @file_get_contents($file, length: self::MOST_BYTES))];
        }

        return $this->read[$file][1];
    }
}
