<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\Delivery\Letters;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Entity\KeptCover;
use Olivine\Core\Time\Instant;

/** Tells people by mail what is asked of them on a roster, and what became of what they asked. */
final readonly class Notes
{
    public function __construct(private Letters $letters, private PersonRepository $people, private Settings $settings)
    {
    }

    /** Whoever was not the one who did it is told: who stands in, for whom, and who asked. */
    public function ofCover(KeptCover $cover, string $roster, Person $by): void
    {
        $names = $this->people->names();
        [$person, $for] = [$names[$cover->personId] ?? '', $names[$cover->forId] ?? ''];
        $when = "{$this->time($cover->fromAt)} to {$this->time($cover->toAt)}";
        $words = match ($cover->state) {
            CoverState::Asked => "{$by->name} asks {$person} to cover for {$for} on the roster {$roster}",
            CoverState::Accepted => "{$person} covers for {$for} on the roster {$roster}",
            CoverState::Declined => "{$person} cannot cover for {$for} on the roster {$roster}",
            CoverState::Withdrawn => "The cover of {$person} for {$for} on the roster {$roster} was taken back",
            CoverState::Set => "{$by->name} set {$person} to cover for {$for} on the roster {$roster}",
        };
        $what = $cover->state === CoverState::Asked ? 'Accept or decline it' : 'See it';
        $note = $cover->note === '' ? '' : "\n“{$cover->note}”\n";
        $text = "{$words},\n{$when}.\n{$note}\n{$what}: {$this->settings->publicUrl()}/roster/mine\n";
        foreach (array_unique([$cover->personId, $cover->forId, $cover->askedBy]) as $one) {
            if ($one !== null && $one !== $by->id) {
                $this->letters->post($one, "{$words}, {$when}", $text, "cover-{$cover->id()}.{$cover->state->value}.{$one}");
            }
        }
    }

    /**
     * Whoever is new on a roster hears of it; what was installed nobody did.
     *
     * @param list<int> $people
     */
    public function ofBeingPut(array $people, string $where, string $key, ?Person $by): void
    {
        if ($by === null) {
            return;
        }
        $names = $this->people->names();
        foreach ($people as $person) {
            if ($person === $by->id) {
                continue;
            }
            $who = "{$by->name} put you";
            $this->letters->post(
                $person,
                "{$who} on {$where}",
                "{$who} on {$where}, {$names[$person]}.\n\nWhat that means for you, and how you are reached: {$this->settings->publicUrl()}/roster/mine\n",
                "put-{$key}.{$person}",
            );
        }
    }

    private function time(Instant $at): string
    {
        return $at->in($this->settings->zone())->format('D j M H:i');
    }
}
