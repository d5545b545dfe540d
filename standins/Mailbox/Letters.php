<?php

declare(strict_types=1);

namespace Olivine\Standin\Mailbox;

/**
 * The letters of all boxes, one file each, so that they outlive the program. A letter whose Message-ID is here
 * already is the same letter (the duplicate test of RFC 7352): it is counted, not kept twice.
 *
 * @phpstan-type Letter array{key: string, messageId: string, at: int, arrivals: int, from: string, to: list<string>, subject: string, data: string}
 */
final readonly class Letters
{
    public function __construct(private string $folder)
    {
        if (!is_dir($folder)) {
            mkdir($folder, 0o755, true);
        }
    }

    /** @param list<string> $recipients */
    public function receive(string $sender, array $recipients, string $data): void
    {
        $head = self::head($data);
        $id = $head['message-id'] ?? '<' . sha1($data) . '>';
        $file = $this->folder . '/' . sha1($id) . '.json';
        $old = is_file($file) ? self::read($file) : null;
        $letter = [
            'messageId' => $id,
            'at' => $old !== null ? $old['at'] : (int) (microtime(true) * 1000),
            'arrivals' => $old !== null ? $old['arrivals'] + 1 : 1,
            'from' => $sender,
            'to' => $recipients,
            'subject' => self::decode($head['subject'] ?? '(no subject)'),
            'data' => base64_encode($data),
        ];
        file_put_contents("{$file}.new", json_encode($letter));
        rename("{$file}.new", $file);
    }

    /** @return list<Letter> newest first */
    public function all(): array
    {
        $letters = [];
        foreach ((array) glob($this->folder . '/*.json') as $file) {
            $letter = self::read((string) $file);
            if ($letter !== null) {
                $letters[] = $letter;
            }
        }
        usort($letters, static fn(array $a, array $b): int => $b['at'] <=> $a['at']);

        return $letters;
    }

    /** @return Letter|null */
    public function one(string $key): ?array
    {
        $file = $this->folder . '/' . $key . '.json';

        return preg_match('~^[0-9a-f]{40}$~D', $key) === 1 && is_file($file) ? self::read($file) : null;
    }

    /** @return Letter|null */
    private static function read(string $file): ?array
    {
        $letter = json_decode((string) file_get_contents($file), true);
        if (!is_array($letter)) {
            return null;
        }

        /** @var Letter */
        return ['key' => basename($file, '.json')] + $letter;
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
