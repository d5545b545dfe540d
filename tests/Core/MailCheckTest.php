<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Mail\MailCheck;
use Olivine\Core\Check\Mail\MailExchange;
use Olivine\Core\Check\Mail\MailStage;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Verdict;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What the way of a letter comes to. */
final class MailCheckTest extends TestCase
{
    /** @return iterable<string, array{MailExchange, Verdict, string, float|null}> */
    public static function letters(): iterable
    {
        [$sent, $whole] = [new Phases(connect: 0.1, wait: 0.2), new Phases(connect: 0.1, wait: 0.2, transfer: 0.5)];
        yield 'seen' => [new MailExchange($whole, MailStage::Seen), Verdict::Runs, '', 0.0];
        yield 'seen after a while' => [
            new MailExchange(new Phases(connect: 0.1, wait: 0.2, transfer: 7.0), MailStage::Seen),
            Verdict::Runs,
            'It took 7,300 ms, more than the 1,000 ms it is given',
            0.0,
        ];
        yield 'seen, and two of before' => [new MailExchange($whole, MailStage::Seen, late: 2), Verdict::Runs, '2 of former rounds came late', 2.0];
        yield 'not seen' => [
            new MailExchange($sent, MailStage::Accepted), Verdict::Partly, 'The letter was taken, but did not arrive within 45 s', 0.0,
        ];
        yield 'not seen, but one of before' => [
            new MailExchange($sent, MailStage::Accepted, late: 1),
            Verdict::Partly,
            'The letter was taken, but did not arrive within 45 s; one of a former round came late',
            1.0,
        ];
        yield 'a mailbox that is away' => [
            new MailExchange($sent, MailStage::Accepted, 'The mailbox broke off'),
            Verdict::Partly,
            'The letter was taken, and then: the mailbox broke off',
            0.0,
        ];
        yield 'refused' => [
            new MailExchange($sent, MailStage::Greeted, 'The letter was refused: 550 no'), Verdict::Partly, 'The letter was refused: 550 no', null,
        ];
        yield 'nobody there' => [new MailExchange(new Phases(), MailStage::Nowhere, 'Connection refused'), Verdict::Down, 'Connection refused', null];
        yield 'our own fault' => [new MailExchange(new Phases(), MailStage::Nowhere, 'may not', true), Verdict::Unknown, 'may not', null];
    }

    #[DataProvider('letters')]
    public function testWhatItComesTo(MailExchange $exchange, Verdict $verdict, string $words, ?float $late): void
    {
        $judgement = (new MailCheck(10_000, 45_000, 1_000))->judge($exchange);
        self::assertSame([$verdict, $words], [$judgement->verdict, $judgement->words]);
        $values = array_column(array_map(static fn(CheckReading $one): array => [$one->metric, $one->value], $judgement->readings), 1, 0);
        self::assertSame($late, $values['check_mail_late'] ?? null);
        $onItsWay = $exchange->reached === MailStage::Seen ? $exchange->phases->transfer : null;
        self::assertSame($onItsWay, $values['check_mail_seconds'] ?? null);
        self::assertSame($verdict === Verdict::Unknown ? null : ($verdict === Verdict::Down ? 0.0 : 1.0), $values['check_runs'] ?? null);
    }
}
