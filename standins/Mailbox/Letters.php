<?php

declare(strict_types=1);

namespace Olivine\Standin\Mailbox;

/**
 * The letters of all boxes, one file each, so that they outlive the program. A letter whose Message-ID is here
 * already is the same letter (the duplicate test of RFC 7352): it is counted, not kept twice.
 */
final readonly class Letters
{
    public function __construct(private string $folder)
    {
        is_dir($folder) || mkdir($folder, 0o755, true);
    }

    /** @param list<string> $recipients */
    public function receive(string $sender, array $recipients, string $data): void
    {
        $head = self::head($data);
        $id = $head['message-id'] ?? '<' . sha1($data) . '>';
        $file = $this->folder . '/' . sha1($id) . '.json';
        $old = is_file($file) ? json_decode((string) file_get_contents($file), true) : null;
        $letter = [
            'messageId' => $id,
            'at' => is_array($old) ? $old['at'] : (int) (microtime(true) * 1000),
            'arrivals' => is_array($old) ? $old['arrivals'] + 1 : 1,
            'from' => $sender,
            'to' => $recipients,
            'subject' => self::decode($head['subject'] ?? '(no subject)'),
            'data' => base64_encode($data),
        ];
        file_put_contents("{$file}.new", json_encode($letter));
        rename("{$file}.new", $file);
    }

    /** @return list<array<string, mixed>> newest first */
    public function all(): array
    {
        $letters = [];
        foreach ((array) glob($this->folder . '/*.json') as $file) {
            $letter = json_decode((string) file_get_contents((string) $file), true);
            if (is_array($letter)) {
                $letter['key'] = basename((string) $file, '.json');
                $letters[] = $letter;
            }
        }
        usort($letters, static fn(array $a, array $b): int => $b['at'] <=> $a['at']);

        return $letters;
    }

    /** @return array<string, mixed>|null */
    public function one(string $key): ?array
    {
        $file = $this->folder . '/' . $key . '.json';
        $letter =
            preg_match('~^[0-9a-f]{40}$~D', $key) === 1 && is_file($file)
                ? json_decode((string) file_get_contents($file), true)
                : null;

        return is_array($letter) ? $letter : null;
    }

    /** @return array<string, string> */
    private static function head(string $data): array
    {
        $head = [];
        $text = (string) preg_replace('~\r?\n[ \t]+~', ' ', explode("\r\n\r\n", $data, 2)[0]);
        foreach (preg_split('~\r?\n~', $text) ?: [] as $line) {
            [$name, $value] = explode(':', $line, 2) + [1 => ''];
            $head[strtolower($name)] ??= trim($value);
        }

        return $head;
    }

    private static function decode(string $header): string
    {
        $decoded = @iconv_mime_decode($header, ICONV_MIME_DECODE_CONTINUE_ON_ERROR, 'UTF-8');

        return $decoded === false ? $header : $decoded;
    }
}
