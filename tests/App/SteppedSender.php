<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\Slots;

/** What a sender does, one step at a time, so that it can stop between any two of them. */
final class SteppedSender
{
    public readonly string $mark;
    /** @var list<Delivery> */
    private array $seen = [];
    private ?Delivery $claimed = null;
    private ?Delivery $handedOver = null;
    private bool $tookOver = false;
    private ?HeldSlots $held = null;

    /**
     * @param \Closure(string, int): void $handOver
     * @param list<string>                $ways
     */
    public function __construct(
        private readonly Slots $slots,
        private readonly Database $database,
        private readonly DeliveryRepository $deliveries,
        private readonly EntityManagerInterface $manager,
        private readonly \Closure $handOver,
        public readonly int $life,
        private readonly array $ways,
    ) {
        $owner = (new \ReflectionProperty(Slots::class, 'owner'))->getValue($slots);
        $this->mark = is_string($owner) ? substr($owner, -8) : '';
    }

    /** One thing at a time: what it holds, looking, claiming, handing over, writing down. */
    public function step(): void
    {
        try {
            match (true) {
                $this->handedOver !== null => $this->writeDown($this->handedOver),
                $this->claimed !== null => $this->send($this->claimed),
                $this->seen !== [] => $this->claim(),
                default => $this->look(),
            };
        } catch (LeaseLost) {
            $this->looksAnew();
        }
    }

    /** As a part does that hears of other slots: what it saw and claimed is another's by now. */
    public function looksAnew(): void
    {
        [$this->seen, $this->claimed, $this->handedOver, $this->tookOver] = [[], null, null, false];
        (new \ReflectionProperty(Slots::class, 'renewAt'))->setValue($this->slots, 0.0);
    }

    /** That others came or went: between two messages it looks at what it holds. */
    public function hears(): void
    {
        (new \ReflectionProperty(Slots::class, 'renewAt'))->setValue($this->slots, 0.0);
    }

    public function rest(): void
    {
        $this->slots->release();
    }

    private function look(): void
    {
        (new \ReflectionProperty(Slots::class, 'renewAt'))->setValue($this->slots, 0.0);
        $held = $this->slots->held();
        if ($this->held?->epochs !== $held->epochs) {
            $this->tookOver = false;
        }
        $this->held = $held;
        if ($held->isNone()) {
            return;
        }
        if (!$this->tookOver) {
            $this->database->transaction(fn() => $this->deliveries->takeClaimsOver($held, $this->ways));
            $this->tookOver = true;
        }
        $this->manager->clear();
        $this->seen = $this->deliveries->due($held, $this->ways, (new Clock())->now(), 3);
    }

    private function claim(): void
    {
        $delivery = array_shift($this->seen);
        $isOurs = $delivery !== null && $this->database->transaction(fn(): bool => $this->deliveries->claim($delivery));
        $this->claimed = $isOurs ? $delivery : null;
    }

    private function send(Delivery $delivery): void
    {
        ($this->handOver)($delivery->messageKey, $this->life);
        [$this->claimed, $this->handedOver] = [null, $delivery];
    }

    private function writeDown(Delivery $delivery): void
    {
        $this->handedOver = null;
        $this->database->transaction(fn() => $this->deliveries->markSent($delivery, (new Clock())->now(), '250 taken'));
    }
}
