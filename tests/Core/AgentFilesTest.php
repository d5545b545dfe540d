<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Agent\Certificates;
use Olivine\Agent\WatchedFiles;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Exposition\TextWriter;
use PHPUnit\Framework\TestCase;

/** What the agent tells of certificates and other files of its machine. */
final class AgentFilesTest extends TestCase
{
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir() . '/agent-files-' . bin2hex(random_bytes(4));
        mkdir($this->folder);
    }

    protected function tearDown(): void
    {
        array_map(unlink(...), glob("{$this->folder}/*") ?: []);
        rmdir($this->folder);
    }

    /** PEM with one or several, and a cluster's secrets; a file without any is named, and what is renewed is seen. */
    public function testCertificatesOfAFolder(): void
    {
        [$shop, $gate, $pier] = [self::certificate('shop.example', 40), self::certificate('gate.example', 10), self::certificate('pier.example', 90)];
        file_put_contents("{$this->folder}/both.pem", "a comment\n{$shop}{$gate}");
        file_put_contents("{$this->folder}/secret.yaml", "kind: Secret\ndata:\n  tls.crt: " . base64_encode($pier) . "\n  tls.key: bm8=\n");
        file_put_contents("{$this->folder}/secret.json", (string) json_encode(['data' => ['tls.crt' => base64_encode($gate)]]));
        file_put_contents("{$this->folder}/torn.crt", substr($shop, 0, 300));
        file_put_contents("{$this->folder}/notes.txt", $shop);
        $agent = new Certificates([$this->folder]);
        $days = function () use ($agent): array {
            $left = [];
            foreach (self::read($agent->write(...), 'certificate_end_timestamp_seconds') as $one) {
                $left[basename($one->labels->get('file')) . " {$one->labels->get('subject')}"] = (int) round(($one->value - time()) / 86_400);
            }

            return $left;
        };
        $expected = ['both.pem shop.example' => 40, 'both.pem gate.example' => 10, 'secret.json gate.example' => 10, 'secret.yaml pier.example' => 90];
        self::assertEqualsCanonicalizing($expected, $days());
        self::assertSame(4, count(array_intersect_assoc($expected, $days())));
        $unread = array_filter(self::read($agent->write(...), 'certificate_file_unread'), static fn(Sample $one): bool => $one->value > 0);
        self::assertSame(["{$this->folder}/torn.crt"], array_values(array_map(static fn(Sample $one): string => $one->labels->get('file'), $unread)));
        file_put_contents("{$this->folder}/both.pem", self::certificate('shop.example', 365));
        self::assertSame(365, $days()['both.pem shop.example'], 'it was renewed');
        self::assertArrayNotHasKey('both.pem gate.example', $days());
    }

    public function testFilesThatFitAPattern(): void
    {
        foreach (['a.gz' => [100, 3_600], 'b.gz' => [50, 60], 'c.txt' => [7, 5]] as $name => [$bytes, $age]) {
            file_put_contents("{$this->folder}/{$name}", str_repeat('x', $bytes));
            touch("{$this->folder}/{$name}", time() - $age);
        }
        $agent = new WatchedFiles(["{$this->folder}/*.gz", "{$this->folder}/none-*"]);
        $values = fn(string $metric): array => array_map(static fn(Sample $one): float => $one->value, self::read($agent->write(...), $metric));
        self::assertSame([2.0, 0.0], $values('files_count'));
        self::assertSame([150.0, 0.0], $values('files_size_bytes'));
        self::assertEqualsWithDelta([60.0], $values('files_newest_age_seconds'), 5, 'of none there is no age');
        self::assertEqualsWithDelta([3_600.0], $values('files_oldest_age_seconds'), 5);
    }

    /**
     * @param \Closure(TextWriter): void $write
     *
     * @return list<Sample>
     */
    private static function read(\Closure $write, string $metric): array
    {
        $writer = new TextWriter();
        $write($writer);

        return array_values(array_filter(
            TextReader::read($writer->text(), Form::OpenMetrics)->samples,
            static fn(Sample $one): bool => $one->name === $metric,
        ));
    }

    private static function certificate(string $name, int $days): string
    {
        $key = openssl_pkey_new(['private_key_type' => OPENSSL_KEYTYPE_EC, 'curve_name' => 'prime256v1']);
        $request = $key === false ? false : openssl_csr_new(['CN' => $name], $key);
        $certificate = $key === false || is_bool($request) ? false : openssl_csr_sign($request, null, $key, $days);
        if ($certificate === false || !openssl_x509_export($certificate, $text)) {
            throw new \RuntimeException((string) openssl_error_string());
        }

        return $text;
    }
}
