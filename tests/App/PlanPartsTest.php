<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\NamedDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\TeamDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\Delivery\PlanChanges;
use Olivine\App\Delivery\PlanPart;
use Olivine\App\Delivery\PlanUses;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\Listener;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** Two people change one plan, and what somebody is named in is taken out: whatever the plan, whatever they did. */
final class PlanPartsTest extends TestCase
{
    private const ROUNDS = 600;
    /** One of them is a number, as it stands in the key of an array. */
    private const NAMES = ['piers', '7', 'night desk', 'Öl', '08'];
    private const PEOPLE = ['ines@saltmarsh.example', 'tomasz@saltmarsh.example', 'mei-lin@saltmarsh.example'];
    private const CHANNELS = ['e-mail', 'pier room', '7'];

    private Randomizer $random;

    protected function setUp(): void
    {
        $this->random = new Randomizer(new Mt19937(12));
    }

    public function testBothChangesAreLaidOverWhatTheyBeganFrom(): void
    {
        $conflicting = 0;
        for ($round = 0; $round < self::ROUNDS; ++$round) {
            $base = $this->plan();
            [$theirs, $mine] = [$this->changed($base), $this->changed($base)];

            self::assertEquals([$mine, []], PlanChanges::merged($base, $base, $mine), 'nobody else was there: mine as it is');
            self::assertSamePlan($theirs, PlanChanges::merged($base, $theirs, $base)[0], 'nothing of mine: all of theirs');
            self::assertEquals([$mine, []], PlanChanges::merged($base, $mine, $mine), 'both did the same');

            [$merged, $conflicts] = PlanChanges::merged($base, $theirs, $mine);
            self::assertEqualsCanonicalizing($conflicts, PlanChanges::merged($base, $mine, $theirs)[1], 'whoever is asked');
            foreach (PlanPart::cases() as $kind) {
                [$was, $their, $own, $now] = array_map($kind->of(...), [$base, $theirs, $mine, $merged]);
                foreach (array_keys($was + $their + $own) as $name) {
                    $isTheirs = !self::isSame($their[$name] ?? null, $was[$name] ?? null);
                    $isMine = !self::isSame($own[$name] ?? null, $was[$name] ?? null);
                    $isConflict = $isTheirs && $isMine && !self::isSame($their[$name] ?? null, $own[$name] ?? null);
                    self::assertSame($isConflict, in_array("{$kind->value} {$name}", $conflicts, true), "{$kind->value} {$name}");
                    self::assertEquals(($isTheirs && !$isMine ? $their : $own)[$name] ?? null, $now[$name] ?? null, "{$kind->value} {$name}");
                }
            }
            self::assertTrue($merged->paths[count($merged->paths) - 1]->isLast(), 'nothing stands after everything else');
            $conflicting += (int) ($conflicts !== []);
        }
        self::assertGreaterThan(self::ROUNDS / 10, $conflicting, 'it happened often enough');
        self::assertLessThan(self::ROUNDS, $conflicting);
    }

    /** What is shown as changed is what makes the one plan of the other, and nothing else. */
    public function testWhatIsOtherwiseIsSaidPartByPart(): void
    {
        for ($round = 0; $round < self::ROUNDS; ++$round) {
            $was = $this->plan();
            $now = $this->changed($was);
            self::assertSame([], PlanChanges::between($now, $now));
            $said = [];
            foreach (PlanChanges::between($was, $now) as $change) {
                if ($change->what !== 'moved') {
                    $said["{$change->kind} {$change->name}"] = $change->what;
                }
            }
            $expected = [];
            foreach (PlanPart::cases() as $kind) {
                [$before, $after] = [$kind->of($was), $kind->of($now)];
                foreach (array_keys($before + $after) as $name) {
                    if (!self::isSame($before[$name] ?? null, $after[$name] ?? null)) {
                        $expected["{$kind->value} {$name}"] = match (true) {
                            !isset($before[$name]) => 'added',
                            !isset($after[$name]) => 'removed',
                            default => 'changed',
                        };
                    }
                }
            }
            ksort($expected);
            ksort($said);
            self::assertSame($expected, $said);
        }
    }

    /** A new part stands where one says, also before a part whose name is a number; else before everything else. */
    public function testANewPathHasItsPlace(): void
    {
        $path = static fn(string $name): PathDefinition => new PathDefinition($name, 'piers');
        $parts = PlanPart::Path->of(new PlanDefinition([$path('a'), $path('7'), $path(PathDefinition::EVERYTHING_ELSE)], []));
        foreach (['a' => 'new a 7 everything else', '7' => 'a new 7 everything else', 'gone' => 'a 7 everything else new'] as $before => $order) {
            self::assertSame($order, implode(' ', array_keys(PlanChanges::put($parts, 'new', $path('new'), (string) $before))));
        }
        self::assertSame('a 7 new everything else', implode(' ', array_keys(PlanChanges::put($parts, 'new', $path('new'), null))));
        self::assertSame('a 7 everything else', implode(' ', array_keys(PlanChanges::put($parts, '7', $path('7'), 'a'))), 'one that is there stays');
    }

    /** Taken out, it is named nowhere, and whatever did not name it is as it was; or a ladder would have nobody, and says so. */
    public function testWhatIsTakenOutIsNamedNowhere(): void
    {
        $refused = 0;
        for ($round = 0; $round < self::ROUNDS; ++$round) {
            $plan = $this->plan();
            $kind = ['person', 'team', 'role', 'channel'][$this->random->getInt(0, 3)];
            $name = match ($kind) {
                'person' => $this->one(self::PEOPLE),
                'channel' => $this->one(self::CHANNELS),
                default => $this->one(self::NAMES),
            };
            $uses = PlanUses::of($plan, $kind, $name);
            try {
                $left = PlanUses::without($plan, $kind, $name);
            } catch (Problem $problem) {
                self::assertStringContainsString('would have nobody left', $problem->getMessage());
                self::assertNotSame([], $uses, 'whom nobody names is never in the way');
                ++$refused;

                continue;
            }
            self::assertSame([], PlanUses::of($left, $kind, $name));
            if ($uses === []) {
                self::assertEquals($plan, $left);
            }
            self::assertEquals($plan->paths, $left->paths);
            self::assertEquals(array_map(self::called(...), $plan->ladders), array_map(self::called(...), $left->ladders), 'no ladder goes');
            foreach ([...$left->ladders, ...$left->copies] as $part) {
                $part instanceof LadderDefinition ? $part->core() : self::assertNotSame([[], []], [$part->who, $part->by], 'no copy is left for nobody');
            }
        }
        self::assertGreaterThan(10, $refused);
    }

    private static function isSame(?NamedDefinition $one, ?NamedDefinition $other): bool
    {
        return json_encode($one, JSON_THROW_ON_ERROR) === json_encode($other, JSON_THROW_ON_ERROR);
    }

    private static function called(NamedDefinition $part): string
    {
        return $part->name();
    }

    /** The parts count, and the order of what was there: a path that came meanwhile stands before everything else. */
    private static function assertSamePlan(PlanDefinition $expected, PlanDefinition $plan, string $why): void
    {
        foreach (PlanPart::cases() as $kind) {
            [$one, $other] = [$kind->of($expected), $kind->of($plan)];
            ksort($one);
            ksort($other);
            self::assertEquals($one, $other, $why);
        }
    }

    private function plan(): PlanDefinition
    {
        $ladders = array_map($this->ladder(...), $this->some(self::NAMES, 1));
        $paths = array_map(fn(string $name): PathDefinition => $this->path($name), $this->some(self::NAMES, 0));

        return new PlanDefinition(
            [...$paths, $this->path(PathDefinition::EVERYTHING_ELSE)],
            $ladders,
            array_map($this->copyFor(...), $this->some(self::NAMES, 0)),
            array_map($this->team(...), $this->some(self::NAMES, 0)),
        );
    }

    /** Of each kind a part changes, goes, comes, or stands elsewhere. */
    private function changed(PlanDefinition $plan): PlanDefinition
    {
        foreach (PlanPart::cases() as $kind) {
            $parts = $kind->of($plan);
            foreach (array_keys($parts) as $name) {
                $name = (string) $name;
                $isLast = $name === PathDefinition::EVERYTHING_ELSE;
                $deed = $this->random->getInt(0, 5);
                if ($deed === 0) {
                    $parts[$name] = $this->part($kind, $name);
                } elseif ($deed === 1 && !$isLast && ($kind !== PlanPart::Ladder || count($parts) > 1)) {
                    unset($parts[$name]);
                }
            }
            $new = $this->one(self::NAMES);
            if (!isset($parts[$new]) && $this->random->getInt(0, 1) === 0) {
                $parts = PlanChanges::put($parts, $new, $this->part($kind, $new), null);
            }
            $plan = $kind->laidInto($plan, $parts);
        }

        return $plan;
    }

    private function part(PlanPart $kind, string $name): NamedDefinition
    {
        return match ($kind) {
            PlanPart::Path => $this->path($name),
            PlanPart::Ladder => $this->ladder($name),
            PlanPart::Copy => $this->copyFor($name),
            PlanPart::Team => $this->team($name),
        };
    }

    private function path(string $name): PathDefinition
    {
        $for = $name === PathDefinition::EVERYTHING_ELSE ? '' : 'service = "gate"';

        return new PathDefinition($name, $this->one(self::NAMES), $for, gatherSeconds: 10 * $this->random->getInt(0, 3));
    }

    private function ladder(string $name): LadderDefinition
    {
        $rung = fn(): RungDefinition => new RungDefinition($this->receivers(1), $this->some(self::CHANNELS, 0), 60 * $this->random->getInt(1, 3));

        return new LadderDefinition($name, array_map($rung, range(1, $this->random->getInt(1, 3))), $this->random->getInt(1, 2));
    }

    private function copyFor(string $name): CopyDefinition
    {
        $by = $this->some(self::CHANNELS, 0);

        return new CopyDefinition($name, who: $this->receivers($by === [] ? 1 : 0), by: $by);
    }

    private function team(string $name): TeamDefinition
    {
        return new TeamDefinition($name, $this->some(self::PEOPLE, 0));
    }

    /** @return list<WhoDefinition> */
    private function receivers(int $least): array
    {
        $one = function (): WhoDefinition {
            $listener = $this->one([Listener::Person, Listener::Person, Listener::Team, Listener::Role, Listener::OnCall]);
            $name = match ($listener) {
                Listener::Person => $this->one(self::PEOPLE),
                Listener::Team, Listener::Role => $this->one(self::NAMES),
                default => '',
            };

            return new WhoDefinition($listener, $name);
        };
        $count = $this->random->getInt($least, 2);

        return $count === 0 ? [] : array_map($one, range(1, $count));
    }

    /**
     * @template T
     *
     * @param non-empty-list<T> $of
     *
     * @return T
     */
    private function one(array $of): mixed
    {
        return $of[$this->random->getInt(0, count($of) - 1)];
    }

    /**
     * @param non-empty-list<string> $of
     *
     * @return list<string> at least so many of them, in some order
     */
    private function some(array $of, int $least): array
    {
        return array_slice($this->random->shuffleArray($of), 0, $this->random->getInt($least, count($of)));
    }
}
