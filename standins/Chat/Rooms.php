<?php

declare(strict_types=1);

namespace Olivine\Standin\Chat;

use Olivine\Server\Response;
use Olivine\Standin\Outside\Conversations;
use Olivine\Standin\Outside\Mood;
use Olivine\Standin\Outside\Sheet;

/** What was said in the rooms, thread by thread; whoever reads it says who they are, presses a button or writes a line. */
final readonly class Rooms
{
    public function __construct(private Conversations $said)
    {
    }

    /** @param array<string, string> $form id, who, and button or text */
    public function answered(array $form): void
    {
        $who = $form['who'] ?? '';
        $button = $form['button'] ?? '';
        $text = $button === '' ? $form['text'] ?? '' : '';
        $answer = static fn(string $how, array $message): array => [
            'from' => $who,
            'button' => $button,
            'text' => $text,
            'message' => Conversations::of($message, 'id'),
        ];
        $this->said->answered($form['id'] ?? '', $answer, "{$who}: {$button}{$text}");
    }

    public function page(Mood $mood): Response
    {
        $byThread = [];
        foreach ($this->said->shown() as $one) {
            [$to, $thread] = [Conversations::of($one['message'], 'to'), Conversations::of($one['message'], 'thread')];
            $place = $to === '' ? '#' . Conversations::of($one['message'], 'room') : "to {$to} alone";
            $byThread[$place . ($thread === '' ? '' : ", {$thread}")][] = self::row($one['how'], $one['message'], $one['thing']);
        }
        $body = '';
        foreach ($byThread as $thread => $rows) {
            $body .= '<h2>' . Sheet::text($thread) . '</h2><ul>' . implode('', $rows) . '</ul>';
        }

        return Sheet::of('The chat of the crew', $mood, $body === '' ? '<p>Nobody said anything yet.</p>' : $body);
    }

    /**
     * @param array<array-key, mixed> $message
     * @param array<string, mixed>    $thing
     */
    private static function row(string $how, array $message, array $thing): string
    {
        $buttons = '';
        foreach (is_array($message['buttons'] ?? null) ? $message['buttons'] : [] as $button) {
            $one = is_array($button) ? $button : [];
            $buttons .= '<button name="button" value="' . Sheet::text($one['button'] ?? '') . '">' . Sheet::text($one['words'] ?? '') . '</button>';
        }
        $for = Conversations::of($message, 'for');
        $who = '<input name="who" aria-label="Who you are" value="' . Sheet::text(str_starts_with($for, '@') ? $for : '') . '" placeholder="@ines">';
        $fields = "{$who}{$buttons}<input name=\"text\" aria-label=\"Line\"><button>Say</button>";
        $form = $buttons === '' ? '' : Sheet::form('/answer', ['id' => "{$how} " . Conversations::of($message, 'id')], $fields);

        return '<li><strong>' . Sheet::text($message['title'] ?? '') . '</strong> <small>' . ($for === '' ? '' : 'for ' . Sheet::text($for) . ' · ')
            . Sheet::when($thing) . '</small><pre>' . Sheet::text($message['text'] ?? '') . '</pre>' . Conversations::answers($thing) . "{$form}</li>";
    }
}
