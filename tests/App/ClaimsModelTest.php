<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Olivine\App\Delivery\DeliveryStatus;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Slots;
use Olivine\Core\Delivery\MessageKind;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * Two senders share a queue and stop at any step: between looking and claiming, claiming and handing over, handing over and writing it
 * down; for so long that the other one takes over, or for ever, so that another one starts in their place. Whatever the order, every
 * message is handed over under its one key, twice only where whoever did so first lost its slots before it was written down,
 * and none stays claimed.
 */
final class ClaimsModelTest extends TestCase
{
    private const RUNS = 40;
    private const STEPS = 120;
    private const MESSAGES = 12;
    private const WAYS = ['e-mail'];

    private EntityManagerInterface $manager;
    private ManagerRegistry $managers;
    private Randomizer $random;
    /** @var array<string, non-empty-list<int>> key → by which lives of senders it was handed over, in order */
    private array $atTheSink = [];
    /** @var array<int, true> lives whose slots were taken from them */
    private array $lostSlots = [];
    private int $lives = 0;

    public function testWhateverStopsWhereverEachIsToldUnderItsKeyAndNoneStaysClaimed(): void
    {
        $this->managers = Instance::managers();
        $manager = $this->manager = Instance::manager($this->managers);
        $this->random = new Randomizer(new Mt19937(1_128));
        Instance::emptyDatabase('claims');
        $connection = $manager->getConnection();
        $before = $connection->getDatabase();
        $connection->executeStatement('USE olivine_claims');
        try {
            $twice = 0;
            for ($run = 0; $run < self::RUNS; ++$run) {
                $twice += $this->oneRun();
            }
            self::assertGreaterThan(3, $twice, 'the runs are such that somebody was overtaken with a message in hand');
        } finally {
            $connection->executeStatement("USE {$before}");
            $manager->clear();
        }
    }

    /** @return int how many messages were handed over twice */
    private function oneRun(): int
    {
        $connection = $this->manager->getConnection();
        array_map(static fn(string $table): mixed => $connection->executeStatement("DELETE FROM {$table}"), ['delivery', 'lease', 'part_copy']);
        $this->forget();
        $now = (new Clock())->now();
        $deliveries = new DeliveryRepository($this->managers, new Database($connection));
        for ($i = 0; $i < self::MESSAGES; ++$i) {
            $deliveries->plan(MadeUpIncident::numbered(100 + $i), MessageKind::Raised, 1, 7, 'e-mail', $now, $now);
        }
        $senders = [$this->born(), $this->born()];
        for ($step = 0; $step < self::STEPS; ++$step) {
            $who = $this->random->getInt(0, 1);
            $what = $this->random->getInt(0, 24);
            if ($what === 0) {
                // Frozen, cut off, or killed: its leases run out.
                $connection->executeStatement("UPDATE lease SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE owner LIKE ?", ["%{$senders[$who]->mark}"]);
                $connection->executeStatement('DELETE FROM part_copy WHERE owner LIKE ?', ["%{$senders[$who]->mark}"]);
                $this->lostSlots[$senders[$who]->life] = true;
                $senders[1 - $who]->hears();
                $senders[$who] = $this->random->getInt(0, 1) === 0 ? $this->born() : $senders[$who];
            } else {
                $senders[$who]->step();
            }
        }
        foreach ($senders as $sender) {
            $sender->rest();
        }
        $last = $this->born();
        for ($step = 0; $step < 8 * self::MESSAGES; ++$step) {
            $last->step();
        }
        $last->rest();
        $this->manager->clear();
        $all = $deliveries->findAll();
        self::assertSame([DeliveryStatus::Sent], array_values(array_unique(array_column($all, 'status'), SORT_REGULAR)), 'none stays claimed, none is left');
        $keys = array_column($all, 'messageKey');
        sort($keys);
        $told = array_keys($this->atTheSink);
        sort($told);
        self::assertSame($keys, $told, 'each under its one key');
        foreach ($this->atTheSink as $key => $lives) {
            array_pop($lives);
            foreach ($lives as $life) {
                self::assertArrayHasKey($life, $this->lostSlots, "{$key} was handed over again although nobody was overtaken");
            }
        }

        return count(array_filter($this->atTheSink, static fn(array $lives): bool => count($lives) > 1));
    }

    private function forget(): void
    {
        [$this->atTheSink, $this->lostSlots] = [[], []];
    }

    private function born(): SteppedSender
    {
        $connection = $this->manager->getConnection();
        $slots = new Slots(new Database($connection), PartName::Mail);
        $database = new Database($connection, $this->managers);
        $database->under($slots);
        $deliveries = new DeliveryRepository($this->managers, $database);
        $handOver = function (string $key, int $life): void {
            $this->atTheSink[$key][] = $life;
        };

        return new SteppedSender($slots, $database, $deliveries, $this->manager, $handOver, ++$this->lives, self::WAYS);
    }
}
