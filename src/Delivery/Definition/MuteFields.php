<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;

/** What is to be hushed, when and why. */
final readonly class MuteFields
{
    /**
     * @param string   $matching a filter such as service = "boarding-gate" and site = "skarn"
     * @param string   $from     2026-12-02 08:00 on the clocks of the zone; "": now
     * @param string   $to       of what comes again: of the first time
     * @param string   $zone     "": that of the site
     * @param string   $recurs   FREQ=WEEKLY;BYDAY=SU (RFC 5545, 3.3.10); "": once
     * @param int|null $version  what was read, to change it
     */
    public function __construct(
        #[Line(80, 1)]
        public string $name,
        #[Line(2_000, 1)]
        public string $matching,
        #[Line(300, 1)]
        public string $reason,
        #[Line(16, 16)]
        public string $to,
        public MuteKind $kind = MuteKind::Mute,
        #[Line(16)]
        public string $from = '',
        #[Line(60)]
        public string $zone = '',
        #[Line(200)]
        public string $recurs = '',
        #[Whole(1, PHP_INT_MAX)]
        public ?int $version = null,
    ) {
    }

    /** The same, of what began already. */
    public function fromNow(): self
    {
        return new self($this->name, $this->matching, $this->reason, $this->to, $this->kind, '', $this->zone, $this->recurs);
    }
}
