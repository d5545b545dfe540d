<?php

declare(strict_types=1);

namespace Olivine\Standin\Desk;

use Olivine\Server\Request;
use Olivine\Server\Response;
use Olivine\Standin\Outside\Mood;
use Olivine\Standin\Outside\Sheet;
use Olivine\Standin\Outside\Things;

/** Tickets: each with a key, comments, a state and whoever owns it. A request that comes twice under one id opens one, and says it once. */
final readonly class Tickets
{
    private const STATES = ['new', 'in work', 'done'];

    public function __construct(private Things $things, private string $address)
    {
    }

    public function asked(Request $request): Response
    {
        $said = json_decode($request->body, true);
        $said = is_array($said) ? $said : [];
        $id = is_string($said['id'] ?? null) ? $said['id'] : '';
        if ($request->path === '/tickets' && $request->method === 'POST') {
            $isWhole = $id !== '' && is_string($said['title'] ?? null);

            return $isWhole ? $this->opened($id, $said) : new Response("It needs an id and a title\n", 'text/plain', 422);
        }
        if (preg_match('~^/tickets/(PIER-\d+)(/comments)?$~D', $request->path, $part) !== 1) {
            return new Response("There is no such ticket\n", 'text/plain', 404);
        }
        $ticket = $this->things->one($part[1]);
        if ($ticket === null) {
            return new Response("There is no such ticket\n", 'text/plain', 404);
        }
        if (isset($part[2]) && $request->method === 'POST') {
            $comments = is_array($ticket['comments'] ?? null) ? $ticket['comments'] : [];
            $text = is_string($said['text'] ?? null) ? $said['text'] : '';
            $state = in_array($said['state'] ?? null, self::STATES, true) ? $said['state'] : $ticket['state'] ?? 'new';
            $ticket = $this->things->keep($part[1], ['comments' => $comments + [$id => $text], 'state' => $state] + $ticket);
        }

        return Response::json(self::shown($ticket, $this->address));
    }

    /** @return list<array<string, mixed>> newest first */
    public function all(): array
    {
        return $this->things->all();
    }

    /** @param array<string, string> $form key, owner, state */
    public function change(array $form): void
    {
        $ticket = $this->things->one($form['key'] ?? '');
        if ($ticket !== null) {
            $state = in_array($form['state'] ?? '', self::STATES, true) ? $form['state'] : $ticket['state'] ?? 'new';
            $this->things->keep($form['key'] ?? '', ['owner' => $form['owner'] ?? '', 'state' => $state] + $ticket);
        }
    }

    public function page(Mood $mood): Response
    {
        $rows = implode('', array_map(self::row(...), $this->things->all()));

        return Sheet::of('The desk of the piers', $mood, $rows === '' ? '<p>No tickets yet.</p>' : "<ul>{$rows}</ul>");
    }

    /** @param array<array-key, mixed> $said */
    private function opened(string $id, array $said): Response
    {
        $isTest = ($said['test'] ?? false) === true;
        foreach ($this->things->all() as $one) {
            if (($one['of'] ?? '') === $id) {
                $key = is_string($one['id'] ?? null) ? $one['id'] : '';
                $arrivals = is_int($one['arrivals'] ?? null) ? $one['arrivals'] : 1;

                return Response::json(self::shown($this->things->keep($key, ['arrivals' => $arrivals + 1] + $one), $this->address));
            }
        }
        if ($isTest) {
            return Response::json(['key' => 'none', 'state' => 'a test']);
        }
        $key = 'PIER-' . (count($this->things->all()) + 1);
        $ticket = $this->things->arrives($key, [
            'of' => $id,
            'title' => $said['title'] ?? '',
            'text' => $said['text'] ?? '',
            'severity' => $said['severity'] ?? '',
            'comments' => [],
            'state' => 'new',
            'owner' => '',
        ]);

        return Response::json(self::shown($ticket, $this->address));
    }

    /**
     * @param array<string, mixed> $ticket
     *
     * @return array<string, mixed>
     */
    private static function shown(array $ticket, string $address): array
    {
        $key = is_string($ticket['id'] ?? null) ? $ticket['id'] : '';

        return ['key' => $key, 'state' => $ticket['state'] ?? '', 'owner' => $ticket['owner'] ?? '', 'url' => "{$address}/#{$key}"];
    }

    /** @param array<string, mixed> $ticket */
    private static function row(array $ticket): string
    {
        $key = is_string($ticket['id'] ?? null) ? $ticket['id'] : '';
        $comments = '';
        foreach (is_array($ticket['comments'] ?? null) ? $ticket['comments'] : [] as $comment) {
            $comments .= '<pre class="said">' . Sheet::text($comment) . '</pre>';
        }
        $is = static fn(string $one): string => $one === ($ticket['state'] ?? '') ? ' disabled' : '';
        $states = implode('', array_map(static fn(string $one): string => "<button name=\"state\" value=\"{$one}\"{$is($one)}>{$one}</button>", self::STATES));
        $owner = '<input name="owner" aria-label="Owner" placeholder="nobody owns it" value="' . Sheet::text($ticket['owner'] ?? '') . '">';

        return '<li id="' . Sheet::text($key) . '"><strong>' . Sheet::text($key) . ' ' . Sheet::text($ticket['title'] ?? '') . '</strong> <small>'
            . Sheet::when($ticket) . '</small><pre>' . Sheet::text($ticket['text'] ?? '') . "</pre>{$comments}"
            . Sheet::form('/change', ['key' => $key], "{$owner}<button>Owns it</button>{$states}") . '</li>';
    }
}
