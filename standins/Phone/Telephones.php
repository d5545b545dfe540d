<?php

declare(strict_types=1);

namespace Olivine\Standin\Phone;

use Olivine\Server\Response;
use Olivine\Standin\Outside\Conversations;
use Olivine\Standin\Outside\Mood;
use Olivine\Standin\Outside\Sheet;

/** Every telephone that was written to or called, with what was said there. */
final readonly class Telephones
{
    public function __construct(private Conversations $said)
    {
    }

    /** @param array<string, string> $form id, and text or key */
    public function answered(array $form): void
    {
        $answer = static function (string $how, array $message) use ($form): array {
            $from = Conversations::of($message, 'to');

            return $how === 'voice'
                ? ['from' => $from, 'key' => $form['key'] ?? '', 'message' => Conversations::of($message, 'id')]
                : ['from' => $from, 'text' => $form['text'] ?? ''];
        };
        $this->said->answered($form['id'] ?? '', $answer, $form['key'] ?? $form['text'] ?? '');
    }

    public function page(Mood $mood): Response
    {
        $byNumber = [];
        foreach ($this->said->shown() as $one) {
            $byNumber[Conversations::of($one['message'], 'to')][] = self::row($one['how'], $one['message'], $one['thing']);
        }
        $body = '';
        foreach ($byNumber as $number => $rows) {
            $body .= '<h2>' . Sheet::text($number) . '</h2><ul>' . implode('', $rows) . '</ul>';
        }

        return Sheet::of('The telephones of the crew', $mood, $body === '' ? '<p>It has not rung yet.</p>' : $body);
    }

    /**
     * @param array<array-key, mixed> $message
     * @param array<string, mixed>    $thing
     */
    private static function row(string $how, array $message, array $thing): string
    {
        $buttons = '';
        foreach (is_array($message['keys'] ?? null) ? $message['keys'] : [] as $key => $words) {
            $buttons .= '<button name="key" value="' . Sheet::text($key) . '">' . Sheet::text($key) . ': ' . Sheet::text($words) . '</button>';
        }
        $form = $how === 'voice' ? $buttons : '<input name="text" aria-label="Answer" placeholder="ok"><button>Send</button>';

        return '<li><strong>' . ($how === 'voice' ? 'a call' : 'SMS') . '</strong> <small>' . Sheet::when($thing) . '</small><pre>'
            . Sheet::text($message['say'] ?? $message['text'] ?? '') . '</pre>' . Conversations::answers($thing)
            . ($form === '' ? '' : Sheet::form('/answer', ['id' => "{$how} " . Conversations::of($message, 'id')], $form)) . '</li>';
    }
}
