<?php

declare(strict_types=1);

namespace Olivine\Standin\Mailbox;

/** Finds the parts of a letter that a person looks at: HTML with its embedded pictures, else the text. */
final class Reader
{
    public static function html(string $data): string
    {
        $parts = self::parts($data);
        $html = null;
        $text = '';
        $pictures = [];
        foreach ($parts as [$type, $id, $body]) {
            if ($type === 'text/html') {
                $html ??= $body;
            } elseif ($type === 'text/plain') {
                $text .= $body;
            } elseif (str_starts_with($type, 'image/')) {
                $pictures[$id] = "data:{$type};base64," . base64_encode($body);
            }
        }
        if ($html === null) {
            return '<pre>' . htmlspecialchars($text) . '</pre>';
        }
        foreach ($pictures as $id => $url) {
            $html = str_replace("cid:{$id}", $url, $html);
        }

        return $html;
    }

    /** @return list<array{string, string, string}> type, content id, body of each leaf */
    private static function parts(string $data): array
    {
        [$head, $body] = explode("\r\n\r\n", $data, 2) + [1 => ''];
        $head = (string) preg_replace('~\r\n[ \t]+~', ' ', $head);
        $type = preg_match('~^Content-Type:\s*([^;\r\n]+)~mi', $head, $part) === 1 ? strtolower(trim($part[1])) : 'text/plain';
        if (str_starts_with($type, 'multipart/') && preg_match('~boundary="?([^";\r\n]+)~i', $head, $part) === 1) {
            $found = [];
            foreach (array_slice(explode('--' . $part[1], $body), 1) as $piece) {
                if (!str_starts_with($piece, '--')) {
                    array_push($found, ...self::parts(ltrim($piece, "\r\n")));
                }
            }

            return $found;
        }
        $encoding = preg_match('~^Content-Transfer-Encoding:\s*(\S+)~mi', $head, $part) === 1 ? strtolower($part[1]) : '';
        $id = preg_match('~^Content-ID:\s*<([^>]+)>~mi', $head, $part) === 1 ? $part[1] : '';

        return [
            [
                $type,
                $id,
                match ($encoding) {
                    'base64' => (string) base64_decode($body, true),
                    'quoted-printable' => quoted_printable_decode($body),
                    default => $body,
                },
            ],
        ];
    }
}
