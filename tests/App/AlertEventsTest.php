<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\AlertEvents;
use Olivine\App\Delivery\RaisedBy;
use Olivine\App\Rule\Definition\ConditionFields;
use Olivine\App\Rule\Definition\ForecastFields;
use Olivine\App\Rule\Definition\LimitFields;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Definition\ThresholdFields;
use Olivine\App\Rule\Definition\TogetherFields;
use Olivine\App\Rule\StoredTransition;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What the trail says of each thing that can happen to an alert, and what its incident is called. */
final class AlertEventsTest extends TestCase
{
    private const LABELS = ['broker' => 'broker-north', 'queue' => 'boarding', 'service' => 'boarding-gate'];

    /** @return iterable<string, array{RuleDefinition, StoredTransition, string, string}> rule, what happened, title, words */
    public static function raises(): iterable
    {
        $plain = self::rule();
        yield 'past its limit' => [
            $plain,
            self::happened(Phase::Building, Phase::Raised, Severity::Major, 420.0),
            'Boarding queue on broker-north (boarding) has held above 400 messages for 1 min',
            'raised as major at 420 messages',
        ];
        yield 'past the graver one' => [
            $plain,
            self::happened(Phase::Building, Phase::Raised, Severity::Critical, 1_284.0),
            'Boarding queue on broker-north (boarding) has held above 400 messages for 1 min',
            'raised as critical at 1,284 messages',
        ];
        yield 'at once' => [
            self::rule(holdSeconds: 0),
            self::happened(Phase::Calm, Phase::Raised, Severity::Major, 420.0),
            'Boarding queue on broker-north (boarding) is above 400 messages',
            'raised as major at 420 messages',
        ];
        yield 'blind' => [
            $plain,
            self::happened(Phase::Calm, Phase::Blind, Severity::Minor, null),
            'Boarding queue on broker-north (boarding) has brought no readings for 10 min',
            'raised as minor, no readings',
        ];
        yield 'a group, by name' => [
            self::rule(together: new TogetherFields(['broker'], 3)),
            self::happened(Phase::Building, Phase::Raised, Severity::Major, 4.0, why: 'boarding, gates, lorries and freight'),
            'Boarding queue on broker-north (boarding) has held above 400 messages for 1 min',
            'raised as major at 4 of them (boarding, gates, lorries and freight)',
        ];
        yield 'foreseen' => [
            self::rule(new ForecastFields(Side::Above, [new LimitFields(Severity::Minor, 900)], 800, 86_400)),
            self::happened(Phase::Building, Phase::Raised, Severity::Minor, 700.0),
            'Boarding queue on broker-north (boarding) will be above 900 messages within 24 h if it goes on like this',
            'raised as minor at 700 messages',
        ];
    }

    #[DataProvider('raises')]
    public function testARaiseIsSaid(RuleDefinition $rule, StoredTransition $happened, string $title, string $words): void
    {
        self::assertTrue(AlertEvents::raises($happened));
        $event = AlertEvents::raised($happened, self::by($rule));
        self::assertSame([$title, $words], [$event->title, $event->words]);
        self::assertSame('boarding-gate', $event->about->get('service'));
        self::assertSame(": {$title}", $event->beside);
        // The onset is a line of its own, unless nobody saw it.
        $isBlind = $happened->to === Phase::Blind;
        self::assertSame($isBlind ? null : $happened->onset, $event->onset);
    }

    /** @return iterable<string, array{StoredTransition, Severity, string}> what happened, how grave it was, what is said */
    public static function turns(): iterable
    {
        $where = ' (Boarding queue on broker-north (boarding))';
        yield 'easing' => [
            self::happened(Phase::Raised, Phase::Easing, Severity::Major, 120.0),
            Severity::Major,
            "back at 120 messages, at or below 300 messages; clears if it lasts 2 min{$where}",
        ];
        yield 'past it again' => [
            self::happened(Phase::Easing, Phase::Raised, Severity::Major, 350.0),
            Severity::Major,
            "past the clear limit again at 350 messages, stays raised{$where}",
        ];
        yield 'graver' => [self::happened(Phase::Raised, Phase::Raised, Severity::Critical, 1_300.0), Severity::Major, 'worse: critical at 1,300 messages'];
        yield 'less grave' => [self::happened(Phase::Raised, Phase::Raised, Severity::Major, 900.0), Severity::Critical, 'less grave: major at 900 messages'];
        yield 'out of sight' => [
            self::happened(Phase::Raised, Phase::Blind, null, null),
            Severity::Major,
            "no readings any more; last known as raised{$where}",
        ];
        yield 'in sight again' => [
            self::happened(Phase::Blind, Phase::Raised, Severity::Major, 500.0),
            Severity::Major,
            "readings are back and past the limit{$where}",
        ];
    }

    #[DataProvider('turns')]
    public function testATurnIsSaid(StoredTransition $happened, Severity $before, string $words): void
    {
        $event = AlertEvents::turned($happened, self::by(self::rule()), $before);
        self::assertSame([$words, $happened->severity], [$event->words, $event->severity]);
    }

    /** @return iterable<string, array{StoredTransition, string}> */
    public static function ends(): iterable
    {
        yield 'calm' => [
            self::happened(Phase::Easing, Phase::Calm, Severity::Major, 84.0),
            'cleared at 84 messages: Boarding queue on broker-north (boarding)',
        ];
        yield 'lost from sight' => [
            self::happened(Phase::Blind, Phase::Lost, null, null),
            'lost from sight: Boarding queue on broker-north (boarding) has brought no readings for 3 d; nobody knows how it is',
        ];
        yield 'looked at no more' => [
            self::happened(Phase::Raised, Phase::Ended, null, null, why: 'Ines Duarte paused broker-north'),
            'ended: Boarding queue on broker-north (boarding); Ines Duarte paused broker-north',
        ];
    }

    #[DataProvider('ends')]
    public function testAnEndIsSaid(StoredTransition $happened, string $words): void
    {
        self::assertFalse(AlertEvents::raises($happened));
        $event = AlertEvents::ended($happened, self::by(self::rule()));
        self::assertSame([$words, $happened->to], [$event->words, $event->how]);
    }

    /** @return iterable<string, array{string, array<string, string>, string}> the rule's service, labels, the group */
    public static function services(): iterable
    {
        yield 'the rule says which' => ['piers', self::LABELS, 'piers'];
        yield 'else the series do' => ['', self::LABELS, 'boarding-gate'];
        yield 'else there is none' => ['', ['host' => 'web-1'], 'no service'];
        yield 'however long' => [str_repeat('ä', 500), [], str_repeat('ä', 120)];
    }

    /** @param array<string, string> $labels */
    #[DataProvider('services')]
    public function testWhoseIncidentItIs(string $service, array $labels, string $group): void
    {
        $rule = self::rule(service: $service);
        $about = AlertEvents::about($rule, LabelSet::of($labels), Severity::Major);
        $path = new Path('everything else', null, null, ['service'], Gather::lasting(Duration::none()), Ladder::ofTheRota(Duration::none()));
        self::assertSame($group, $path->group($about));
        self::assertSame(['major', $rule->name], [$about->get('severity'), $about->get('rule')]);
    }

    /** A name may be as long as one likes, and a value whatever a series brings: a title fits, and no letter is cut in two. */
    public function testWordsFitWhateverTheyAreMadeOf(): void
    {
        $labels = LabelSet::of(['broker' => str_repeat('🚢', 300), 'queue' => str_repeat('é', 400)]);
        foreach ([NAN, INF, -INF, 0.0, -0.0, 1e300, PHP_FLOAT_MIN] as $value) {
            $happened = self::happened(Phase::Building, Phase::Raised, Severity::Major, $value, $labels);
            $event = AlertEvents::raised($happened, self::by(self::rule()));
            self::assertSame(500, mb_strlen($event->title));
            self::assertTrue(mb_check_encoding($event->title, 'UTF-8'));
            self::assertStringStartsWith('raised as major at ', $event->words);
        }
    }

    private static function rule(
        ?ConditionFields $condition = null,
        int $holdSeconds = 60,
        ?TogetherFields $together = null,
        string $service = '',
    ): RuleDefinition {
        $limits = [new LimitFields(Severity::Major, 400), new LimitFields(Severity::Critical, 1_200)];

        return new RuleDefinition(
            name: 'Boarding queue',
            formula: 'messaging_queue_depth',
            condition: $condition ?? new ThresholdFields(Side::Above, $limits, 300),
            holdSeconds: $holdSeconds,
            clearHoldSeconds: 120,
            blindSeverity: Severity::Minor,
            service: $service,
            together: $together,
        );
    }

    private static function by(RuleDefinition $rule): RaisedBy
    {
        return new RaisedBy(1, $rule, $rule->core(), 'messages');
    }

    private static function happened(
        Phase $from,
        Phase $to,
        ?Severity $severity,
        ?float $value,
        ?LabelSet $labels = null,
        string $why = '',
    ): StoredTransition {
        $at = Instant::ofMs(1_795_000_000_000);

        return new StoredTransition(
            id: 1,
            ruleId: 7,
            revisionId: 1,
            labelsHash: 'hash',
            labels: $labels ?? LabelSet::of(self::LABELS),
            at: $at,
            from: $from,
            to: $to,
            severity: $severity,
            value: $value,
            numbers: [],
            onset: Instant::ofMs($at->ms - 60_000),
            why: $why,
        );
    }
}
