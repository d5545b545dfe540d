<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `voice_quality(latency, jitter, loss)`: mean opinion score of a call. */
final readonly class VoiceQuality implements Node
{
    public function __construct(public Place $place, public Node $latency, public Node $jitter, public Node $loss)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
