<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Delivery\Decision\Line;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\IncidentState;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\Prices;
use Olivine\Core\Delivery\ReplayedCourse;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PricesTest extends TestCase
{
    /** @return iterable<string, array{list<list<string>>, int}> the ways of the messages of each incident, and what they cost in thousandths */
    public static function sums(): iterable
    {
        yield 'nothing' => [[], 0];
        yield 'mail alone' => [[['e-mail', 'e-mail']], 0];
        yield 'two SMS, a call and a mail' => [[['sms', 'e-mail'], ['sms', 'voice']], 270];
        yield 'a channel that is gone' => [[['old-gateway', 'voice']], 120];
        yield 'a month of nights: thirty calls and their recoveries' => [array_fill(0, 30, ['voice', 'sms']), 5_850];
    }

    /** @param list<list<string>> $ways */
    #[DataProvider('sums')]
    public function testSums(array $ways, int $sum): void
    {
        $at = Instant::ofMs(0);
        $state = new IncidentState('all', 'tickets', 'it is wrong', Severity::Major, $at, false);
        $courses = array_map(
            static fn(array $of): ReplayedCourse => new ReplayedCourse($state, [
                [$at, new Line(TrailKind::Alert, $at, 'raised')],
                ...array_map(static fn(string $way): array => [$at, new Tell(MessageKind::Raised, 1, 1, $way, $at)], $of),
            ]),
            $ways,
        );
        self::assertSame($sum, (new Prices(['sms' => 75, 'voice' => 120, 'e-mail' => 0]))->ofAll($courses));
    }
}
