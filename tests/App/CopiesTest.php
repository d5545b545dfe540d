<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Doctrine\DBAL\Exception\RetryableException;
use Olivine\App\Delivery\DeliveryStatus;
use Olivine\App\Delivery\Entity\Delivery;
use Olivine\App\Delivery\Repository\DeliveryRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\LeaseLost;
use Olivine\App\Platform\Part;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\PartReports;
use Olivine\App\Platform\PartWork;
use Olivine\App\Platform\Slots;
use Olivine\App\Rule\Settled;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Console\Output\NullOutput;

/** Copies of one part: who holds nothing neither works nor speaks for the part, and who reads what they write waits for the slowest. */
final class CopiesTest extends TestCase
{
    protected function tearDown(): void
    {
        pcntl_signal(SIGTERM, SIG_DFL);
        pcntl_signal(SIGINT, SIG_DFL);
        pcntl_signal(SIGALRM, SIG_DFL);
    }

    public function testOnlyWhoIsAtWorkReportsFigures(): void
    {
        $database = Instance::emptyDatabase('standby');
        $other = new Database(Instance::connect());
        $other->connection->executeStatement('USE olivine_standby');
        $first = new Slots($other, PartName::Keeper);
        self::assertTrue($first->held()->hasFirst());
        $other->upsert('part_status', ['name', 'pid', 'at', 'figures'], [['keeper', 1, 1_000, '{"olivine_sealed_spans_total":812}']]);
        $reports = static fn(): array => $other->connection->fetchAllAssociative('SELECT pid, figures FROM part_status');
        $whileStandingBy = $reports();

        $work = new class implements PartWork {
            public int $rounds = 0;
            /** @var list<bool> */
            public array $holds = [];

            public function hold(HeldSlots $slots): void
            {
                $this->holds[] = $slots->hasFirst();
            }

            public function round(): int
            {
                ++$this->rounds;
                posix_kill((int) getmypid(), SIGTERM);

                return 0;
            }

            public function figures(): array
            {
                return ['olivine_sealed_spans_total' => 0.0];
            }
        };
        pcntl_signal(SIGALRM, static function () use ($work, $reports, $whileStandingBy, $first): void {
            self::assertSame(0, $work->rounds, 'it worked without the lease');
            self::assertSame($whileStandingBy, $reports(), 'the counter of the one at work alternates with 0');
            $first->release();
        });
        pcntl_alarm(3);
        (new Part($database, PartName::Keeper, new NullOutput()))->run($work);

        self::assertSame([1, [true]], [$work->rounds, $work->holds]);
        $report = $reports()[0];
        self::assertSame((string) getmypid(), (string) $report['pid'], 'who took over speaks for the part at once');
        self::assertStringContainsString('"olivine_sealed_spans_total":0', (string) $report['figures']);
    }

    public function testWhatCopiesSayIsAddedUpAndNobodySpeaksForSlotsThatAnotherHolds(): void
    {
        $reports = new PartReports(Instance::emptyDatabase('standby'));
        $holding = static fn(int ...$slots): HeldSlots => new HeldSlots(PartName::Evaluator, array_fill_keys($slots, 1));
        $reports->keep($holding(...range(0, 7)), 1, Instant::ofMs(60_000), ['olivine_rules' => 3.0, 'olivine_rule_lateness_seconds' => 1.5]);
        $reports->keep($holding(...range(8, 15)), 2, Instant::ofMs(70_000), ['olivine_rules' => 2.0, 'olivine_rule_lateness_seconds' => 4.0]);
        $together = $reports->now(Instant::ofMs(75_000))['evaluator'];
        self::assertSame(15_000, $together->ageMs, 'as old as what the longest silent one said');
        self::assertEquals((object) ['olivine_rules' => 5.0, 'olivine_rule_lateness_seconds' => 4.0], $together->figures);

        $reports->keep($holding(...range(0, 15)), 1, Instant::ofMs(80_000), ['olivine_rules' => 5.0, 'olivine_rule_lateness_seconds' => 1.0]);
        $alone = $reports->now(Instant::ofMs(81_000))['evaluator'];
        self::assertSame(1_000, $alone->ageMs, 'the other one is gone, and so is what it said');
        self::assertEquals((object) ['olivine_rules' => 5.0, 'olivine_rule_lateness_seconds' => 1.0], $alone->figures);
    }

    /** Frozen between looking and claiming, it woke after another had taken its slots over: it claims nothing, so nothing stays claimed. */
    public function testWhoLostItsSlotsClaimsNothing(): void
    {
        $incident = 800_000_000 + random_int(0, 99_999_999);
        $managers = Instance::managers();
        $manager = Instance::manager($managers);
        $database = new Database($manager->getConnection(), $managers);
        $deliveries = new DeliveryRepository($managers, $database);
        $never = (new Clock())->now()->plus(Duration::ofDays(1));
        $deliveries->plan(MadeUpIncident::numbered($incident), MessageKind::Raised, 1, 71, 'e-mail', $never, $never);
        $delivery = $deliveries->raisedOf($incident)[0];
        $database->under(new Slots(new Database(Instance::connect()), PartName::Dispatcher));
        try {
            $database->transaction(static fn(): bool => $deliveries->claim($delivery));
            self::fail('It claimed what is another\'s to send');
        } catch (LeaseLost) {
            $now = $deliveries->raisedOf($incident)[0];
            self::assertSame([DeliveryStatus::Planned, 0], [$now->status, $now->attempts]);
        } finally {
            $manager->getConnection()->executeStatement('DELETE FROM delivery WHERE incident_id = ?', [$incident]);
        }
    }

    /** One copy decides that it is over while another begins to tell of it: who may have been told of the raise hears of its end. */
    public function testWhoIsBeingToldByAnotherCopyHearsOfTheEnd(): void
    {
        $other = Instance::connect();
        $incident = 900_000_000 + random_int(0, 99_999_999);
        $manager = Instance::manager(Instance::managers());
        $deliveries = $manager->getRepository(Delivery::class);
        self::assertInstanceOf(DeliveryRepository::class, $deliveries);
        $never = (new Clock())->now()->plus(Duration::ofDays(1));
        foreach ([1 => 71, 2 => 72] as $rung => $person) {
            $deliveries->plan(MadeUpIncident::numbered($incident), MessageKind::Raised, $rung, $person, 'e-mail', $never, $never);
        }
        $claim = static fn(int $rung): int|string => $other->executeStatement(
            "UPDATE delivery SET status = 'sending', attempts = 1 WHERE incident_id = ? AND round = ? AND status = 'planned'",
            [$incident, $rung],
        );
        $other->executeStatement('SET innodb_lock_wait_timeout = 1');
        try {
            $manager->wrapInTransaction(static function () use ($deliveries, $incident, $claim): void {
                self::assertSame([], array_filter($deliveries->raisedOf($incident), static fn(Delivery $one): bool => $one->attempts > 0));
                self::assertSame(1, $claim(1), 'another copy claims the first one meanwhile');
                $told = array_filter($deliveries->raisedHeldOf($incident), static fn(Delivery $one): bool => $one->wasTried());
                self::assertSame([71], array_column($told, 'personId'));
                $deliveries->drop($incident, 'it is over');
                try {
                    $claim(2);
                    self::fail('Somebody was told after it was decided who is not');
                } catch (RetryableException) {
                }
            });
            self::assertSame(0, $claim(2), 'and afterwards there is nothing to claim');
        } finally {
            $other->executeStatement('DELETE FROM delivery WHERE incident_id = ?', [$incident]);
        }
    }

    /** @return iterable<string, array{array<int, int>, array<int, int>, non-empty-list<int>, int}> */
    public static function howFar(): iterable
    {
        yield 'all alike' => [array_fill(0, 16, 100_000), [], [1, 2], 100_000];
        yield 'one slot is slower, and is read from' => [[1 => 90_000] + array_fill(0, 16, 100_000), [], [17, 2], 90_000];
        yield 'one slot is slower, and nothing of it is read' => [[1 => 90_000] + array_fill(0, 16, 100_000), [], [2, 3], 100_000];
        yield 'nobody collects one slot: the clock decides' => [[1 => 20_000] + array_fill(0, 16, 100_000), [], [1, 2], 85_000];
        yield 'nobody ever collected' => [[], [], [1], 85_000];
        yield 'a target that uses to come later' => [array_fill(0, 16, 100_000), [5 => 70_000], [5, 2], 70_000];
        yield 'and where nobody collects it, the clock decides too' => [[5 => 1] + array_fill(0, 16, 100_000), [5 => 70_000], [5], 85_000];
    }

    /**
     * @param array<int, int>     $bySlot
     * @param array<int, int>     $later
     * @param non-empty-list<int> $targets
     */
    #[DataProvider('howFar')]
    public function testWhoReadsFromSeveralWaitsForTheSlowest(array $bySlot, array $later, array $targets, int $through): void
    {
        $settled = new Settled(85_000, array_map(static fn(int $slot): ?int => $bySlot[$slot] ?? null, range(0, 15)), $later);
        self::assertSame($through, min(array_map($settled->ofTarget(...), $targets)));
        self::assertLessThanOrEqual($settled->ofTarget(2), $settled->slowest());
    }
}
