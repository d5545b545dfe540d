<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Replication\ReplicationCheck;
use Olivine\Core\Check\Replication\ReplicationEnd;
use Olivine\Core\Check\Verdict;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** How far two ends are apart, and what that comes to. */
final class ReplicationCheckTest extends TestCase
{
    /** @return iterable<string, array{string|null, string|null, float|null}> */
    public static function positions(): iterable
    {
        yield 'transactions' => ['0-1-4711', '0-1-4700', 11.0];
        yield 'of another server, the same line' => ['0-2-4711', '0-1-4711', 0.0];
        yield 'several domains' => ['0-1-4711,1-9-20', '1-9-15,0-1-4711', 5.0];
        yield 'a domain it has not begun' => ['0-1-7,1-9-20', '0-1-7', 20.0];
        yield 'a domain of its own besides' => ['0-1-7', '0-1-7,5-2-900', 0.0];
        yield 'further than what was asked a moment before' => ['0-1-7', '0-1-9', 0.0];
        yield 'bytes of a log' => ['16/B374D848', '16/B374D800', 72.0];
        yield 'over the end of a part' => ['17/0', '16/FFFFFFFF', 1.0];
        yield 'small letters' => ['0/ff', '0/fe', 1.0];
        yield 'two engines' => ['16/B374D848', '0-1-7', null];
        yield 'nothing' => [null, '0-1-7', null];
        yield 'no position' => ['the end', '0-1-7', null];
        yield 'half of one' => ['0-1', '0-1-7', null];
    }

    #[DataProvider('positions')]
    public function testHowFarOneIsBehind(?string $source, ?string $partner, ?float $behind): void
    {
        self::assertSame($behind, (new ReplicationEnd($source))->ahead(new ReplicationEnd($partner)));
    }

    /** @return iterable<string, array{ReplicationEnd, array<int|string, ReplicationEnd>, Verdict, string, list<array{string, string, float}>}> */
    public static function twins(): iterable
    {
        $source = new ReplicationEnd('0-1-100');
        $same = new ReplicationEnd('0-1-100', 500.0);
        $far = new ReplicationEnd('0-1-40', 61.0);
        $stopped = new ReplicationEnd('0-1-90', null, 'it takes nothing over');
        $lost = new ReplicationEnd(null, null, 'No answer within 5 s');
        yield 'the same' => [$source, ['a' => $same], Verdict::Runs, '', [['follows', 'a', 1.0], ['seconds', 'a', 0.0], ['behind', 'a', 0.0]]];
        yield 'as far as it may be' => [
            $source, ['a' => new ReplicationEnd('0-1-99', 60.0)], Verdict::Runs, '', [['follows', 'a', 1.0], ['seconds', 'a', 60.0], ['behind', 'a', 1.0]],
        ];
        yield 'too far, beside one that is not' => [
            $source, ['a' => $same, 'b' => $far], Verdict::Partly, 'b is 61 s behind, more than 60 s',
            [['follows', 'a', 1.0], ['seconds', 'a', 0.0], ['behind', 'a', 0.0], ['follows', 'b', 1.0], ['seconds', 'b', 61.0], ['behind', 'b', 60.0]],
        ];
        yield 'stopped' => [$source, ['a' => $stopped], Verdict::Partly, 'a: it takes nothing over', [['follows', 'a', 0.0], ['behind', 'a', 10.0]]];
        yield 'away' => [$source, ['a' => $lost], Verdict::Partly, 'a: No answer within 5 s', [['follows', 'a', 0.0]]];
        yield 'behind for nobody knows how long' => [
            $source,
            ['a' => new ReplicationEnd('0-1-99')],
            Verdict::Partly,
            'a does not know how far it is behind',
            [['follows', 'a', 1.0], ['behind', 'a', 1.0]],
        ];
        yield 'the source is away' => [$lost, ['a' => $same, 'b' => $lost], Verdict::Down, 'The source: No answer within 5 s', []];
        $ours = new ReplicationEnd(null, null, 'may not', true);
        yield 'a source that we may not ask' => [$ours, ['a' => $same], Verdict::Unknown, 'The source: may not', []];
        yield 'a partner that we may not ask' => [
            $source, ['a' => $ours, '7' => $same], Verdict::Unknown, 'a: may not', [['follows', '7', 1.0], ['seconds', '7', 0.0], ['behind', '7', 0.0]],
        ];
        yield 'and one that is really away' => [
            $source,
            ['a' => $ours, 'b' => $lost],
            Verdict::Partly,
            'a: may not; b: No answer within 5 s',
            [['follows', 'b', 0.0]],
        ];
    }

    /**
     * @param array<int|string, ReplicationEnd>  $partners
     * @param list<array{string, string, float}> $readings
     */
    #[DataProvider('twins')]
    public function testWhatItComesTo(ReplicationEnd $source, array $partners, Verdict $verdict, string $words, array $readings): void
    {
        $judgement = (new ReplicationCheck(60.0, 5_000))->judge(new Phases(connect: 0.01, wait: 0.01), $source, $partners);
        self::assertSame([$verdict, $words], [$judgement->verdict, $judgement->words]);
        $own = array_filter($judgement->readings, static fn(CheckReading $one): bool => isset($one->labels['partner']));
        self::assertSame($readings, array_values(array_map(
            static fn(CheckReading $one): array => [substr($one->metric, strlen('check_replication_')), $one->labels['partner'], $one->value],
            $own,
        )));
    }
}
