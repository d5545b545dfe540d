<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** Who heard of an alert of the past, or why nobody did. */
final readonly class WhoHeard
{
    /**
     * @param int|null     $incident that it was part of; null: of none
     * @param bool         $isHeard  whether anybody was told
     * @param list<string> $words    who was told when and by what, and what else was decided, one after the other
     */
    public function __construct(public ?int $incident, public bool $isHeard, public string $title, public array $words)
    {
    }
}
