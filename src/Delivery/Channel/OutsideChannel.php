<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\PartName;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Symfony\Contracts\Service\ResetInterface;

/** What all ways through another program have in common: which of them are set up, and that each is asked by its own address. */
abstract class OutsideChannel implements Channel, ResetInterface
{
    private const KNOWN_MS = 1_000;
    /** @var array<string, int> name → how often it was changed */
    private array $versions = [];
    private ?Instant $knownAt = null;
    /** @var array<string, int>|null as they were when it was asked last which were set anew */
    private ?array $before = null;

    public function __construct(
        protected readonly KeptChannelRepository $channels,
        protected readonly Handover $handover,
        private readonly Clock $clock = new Clock(),
    ) {
    }

    abstract protected function kind(): ChannelKind;

    public function part(): PartName
    {
        return $this->kind()->part();
    }

    public function ways(): array
    {
        return array_keys($this->known());
    }

    public function personal(): array
    {
        return [];
    }

    public function missing(string $way): string
    {
        return '';
    }

    public function setAnew(): array
    {
        $now = $this->known();
        $anew = $this->before === null ? [] : array_keys(array_diff_assoc($now, $this->before));
        $this->before = $now;

        return $anew;
    }

    public function rest(): void
    {
    }

    /** Whoever asks anew sees what was added since. */
    public function reset(): void
    {
        $this->knownAt = null;
    }

    /** @throws NotHandedOver where it was taken away */
    protected function channel(string $way): KeptChannel
    {
        return $this->channels->named($way) ?? throw NotHandedOver::refused("there is no {$this->kind()->value} channel {$way} any more");
    }

    /** @return array<string, int> */
    private function known(): array
    {
        $now = $this->clock->now();
        if ($this->knownAt === null || $now->since($this->knownAt)->isAtLeast(Duration::ofMs(self::KNOWN_MS))) {
            $this->versions = $this->channels->versions($this->kind());
            $this->knownAt = $now;
        }

        return $this->versions;
    }
}
