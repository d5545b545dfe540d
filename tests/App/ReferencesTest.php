<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Check\CheckRun;
use Olivine\App\Collect\Check\References;
use Olivine\App\Collect\Check\ReportedRun;
use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Verdict;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Our own outage told from theirs: what is not well waits for what is always up. */
final class ReferencesTest extends TestCase
{
    private const SHOP = 1;
    private const CLOCK = 2;
    private const UPLINK = 3;
    private const ALL = [self::CLOCK => 'harbour clock', self::UPLINK => 'uplink'];

    public function testWithoutReferencesNothingWaits(): void
    {
        $references = new References();
        $down = self::ran(self::SHOP, Verdict::Down);
        self::assertSame([$down], $references->told([$down]));
        self::assertSame(Verdict::Down, $down->verdict()->verdict);
    }

    /** @return iterable<string, array{Verdict, array<int, Verdict>, Verdict}> what the shop says, what each reference says behind it, what it comes to */
    public static function outages(): iterable
    {
        [$up, $down, $partly, $unknown] = [Verdict::Runs, Verdict::Down, Verdict::Partly, Verdict::Unknown];
        yield 'theirs' => [$down, [self::CLOCK => $up, self::UPLINK => $up], $down];
        yield 'ours' => [$down, [self::CLOCK => $down, self::UPLINK => $down], $unknown];
        yield 'one of ours is enough to tell' => [$down, [self::CLOCK => $down, self::UPLINK => $up], $down];
        yield 'something of theirs failed' => [$partly, [self::CLOCK => $up, self::UPLINK => $up], $partly];
        yield 'something failed, and so did our line' => [$partly, [self::CLOCK => $down, self::UPLINK => $down], $unknown];
        yield 'a reference that nobody knows of holds nothing' => [$down, [self::CLOCK => $down, self::UPLINK => $unknown], $down];
    }

    /** @param array<int, Verdict> $behind */
    #[DataProvider('outages')]
    public function testWhoseOutageItIs(Verdict $said, array $behind, Verdict $comesTo): void
    {
        $references = new References();
        $references->are(self::ALL);
        // What they said before says nothing of now.
        $before = [self::ran(self::CLOCK, Verdict::Runs, 60.0), self::ran(self::UPLINK, Verdict::Runs, 60.0)];
        self::assertSame($before, $references->told($before));
        $shop = self::ran(self::SHOP, $said, 1.0);
        self::assertSame([], $references->told([$shop]), 'it waits');
        self::assertSame([self::CLOCK, self::UPLINK], $references->wanted(), 'and they are asked');
        $first = self::ran(self::CLOCK, $behind[self::CLOCK]);
        self::assertSame([$first], $references->told([$first]));
        self::assertSame([self::UPLINK], $references->wanted());
        $second = self::ran(self::UPLINK, $behind[self::UPLINK]);
        self::assertSame([$second, $shop], $references->told([$second]));
        self::assertSame([[], false], [$references->wanted(), $references->isAnyWaiting()]);
        $judgement = $shop->verdict();
        self::assertSame($comesTo, $judgement->verdict);
        self::assertSame($comesTo === Verdict::Unknown, $judgement->readings === [], 'what is held leaves no reading');
        self::assertTrue($shop->comesLater());
        if ($comesTo === Verdict::Unknown) {
            self::assertStringContainsString('no reference answers here (harbour clock, uplink); from here it is', $judgement->words);
        }
    }

    public function testWhatIsWellNeverWaitsAndNobodyWaitsForEver(): void
    {
        $references = new References();
        $references->are(self::ALL);
        $well = self::ran(self::SHOP, Verdict::Runs);
        self::assertSame([$well], $references->told([$well]));
        $old = self::ran(self::SHOP, Verdict::Down, 25.0);
        self::assertSame([$old], $references->told([$old]), 'references that do not come in time hold nothing');
        self::assertSame(Verdict::Down, $old->verdict()->verdict);
        $references->told([self::ran(self::SHOP, Verdict::Down)]);
        $references->are([]);
        self::assertCount(1, $references->told([]), 'nor do those that are none any more');
    }

    /** One that cannot be judged is left to whoever takes it, and stops nobody. */
    public function testOneThatCannotBeJudgedIsPassedOn(): void
    {
        $references = new References();
        $references->are(self::ALL);
        $broken = new class (new Target('broken', '', Instant::ofMs(0)), null, 1) extends CheckRun {
            public function judged(): Judgement
            {
                throw new \LogicException('nobody can');
            }

            public function steps(): array
            {
                return [];
            }

            public function lastAnswer(): string
            {
                return '';
            }
        };
        $broken->target->id = self::SHOP;
        self::assertSame([$broken], $references->told([$broken]));
    }

    private static function ran(int $check, Verdict $verdict, float $secondsAgo = 0.0): CheckRun
    {
        $target = new Target("check {$check}", '', Instant::ofMs(0));
        $target->id = $check;
        $readings = [new CheckReading('check_runs', $verdict === Verdict::Down ? 0.0 : 1.0)];

        return new ReportedRun($target, 1, 1, microtime(true) - $secondsAgo, 0.0, new Judgement($verdict, 'so it was', $readings), [], '');
    }
}
