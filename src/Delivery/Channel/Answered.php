<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

/** The other side took a request. */
final readonly class Answered
{
    public function __construct(public int $status, private string $body)
    {
    }

    /** @return array<array-key, mixed> what it said in JSON; empty where it said none */
    public function said(): array
    {
        $said = json_decode($this->body, true, 16);

        return is_array($said) ? $said : [];
    }

    /** What it said, in words. */
    public function text(): string
    {
        return trim(mb_scrub($this->body));
    }

    public function receipt(): Receipt
    {
        return new Receipt("status {$this->status}");
    }
}
