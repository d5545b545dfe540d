<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\Template\BadTemplate;
use Olivine\App\Delivery\Template\TemplateSandbox;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Templates of people are filled in from plain values, and by nothing that reads, runs or grows. */
final class TemplateSandboxTest extends TestCase
{
    private const VALUES = [
        'subject' => 'S', 'text' => 'T', 'over' => false, 'more' => 2, 'person' => 'Ines',
        'incident' => ['id' => 7, 'title' => 'Queue <b>', 'severity' => 'critical'],
        'alerts' => [['name' => 'a', 'value' => '1'], ['name' => 'b', 'value' => '2']],
    ];

    /** @return iterable<string, array{string, string}> */
    public static function filled(): iterable
    {
        yield 'nothing but words' => ['Ahoy', 'Ahoy'];
        yield 'a value, as it is' => ['{{ incident.title }} ({{ incident.id }})', 'Queue <b> (7)'];
        yield 'each alert' => ['{% for one in alerts %}{{ loop.index }} {{ one.name }}={{ one.value }} {% endfor %}', '1 a=1 2 b=2'];
        yield 'one or the other' => ['{% if over %}over{% elseif more > 1 %}{{ more }} more{% else %}on{% endif %}', '2 more'];
        yield 'letters' => ['{{ incident.severity|upper }}, {{ person|default("somebody")|slice(0, 3)|trim }}', 'CRITICAL, Ine'];
        yield 'what may not be there' => ['{{ nobody ?? "nobody" }}', 'nobody'];
        yield 'asks what it is' => ['{{ alerts is empty ? "none" : "some" }} {{ nobody is defined ? 1 : 0 }}', 'some 0'];
        yield 'sums and choices' => ['{{ more * 2 + alerts|length }} {{ more > 1 ? "many" : "few" }}', '6 many'];
    }

    #[DataProvider('filled')]
    public function testATemplateIsFilledIn(string $source, string $says): void
    {
        self::assertSame($says, (new TemplateSandbox())->filled($source, self::VALUES));
    }

    /** @return iterable<string, array{string, string}> what an attacker would write, and what it says to that */
    public static function hostile(): iterable
    {
        yield 'reads a file' => ['{{ source("/etc/passwd") }}', 'called here (function)'];
        yield 'includes one' => ['{% include "mail/incident.txt.twig" %}', 'not allowed'];
        yield 'includes by a function' => ['{{ include("act/page.html.twig") }}', 'called here (function)'];
        yield 'extends one' => ['{% extends "mail/incident.txt.twig" %}', ''];
        yield 'runs a command' => ['{{ ["id"]|map("system")|join }}', 'not allowed'];
        yield 'by a filter' => ['{{ ["id"]|filter("passthru") }}', 'not allowed'];
        yield 'by sorting' => ['{{ ["id", 0]|sort("exec") }}', 'not allowed'];
        yield 'by reducing' => ['{{ [1, 2]|reduce("system", "id") }}', 'not allowed'];
        yield 'by an arrow' => ['{{ alerts|filter(a => a) }}', ''];
        yield 'reads a constant' => ['{{ constant("PHP_VERSION") }}', 'called here (function)'];
        yield 'reads the environment' => ['{{ _self.env }}', ''];
        yield 'registers a callback' => ['{{ _self.env.registerUndefinedFilterCallback("exec") }}', ''];
        yield 'the whole context' => ['{{ _context|join }}', 'a list stands where'];
        yield 'calls a method' => ['{{ person.format("x") }}', ''];
        yield 'an attribute by name' => ['{{ attribute(incident, "id") }}', 'not allowed'];
        yield 'counts up to a billion' => ['{% for i in 1..1000000000 %}x{% endfor %}', 'Nothing is assigned, counted or called here'];
        yield 'counts by a function' => ['{% for i in range(1, 1000000000) %}x{% endfor %}', 'called here (function)'];
        yield 'grows by what it sets' => ['{% set a = "xx" %}{% for b in alerts %}{% set a = a ~ a %}{% endfor %}{{ a }}', 'not allowed'];
        yield 'grows by assigning' => ['{% for b in alerts %}{{ (a = "x" ~ "x") }}{% endfor %}', ''];
        yield 'grows by replacing' => ['{{ "aa"|replace({"a": "aaaa"})|replace({"a": "aaaa"}) }}', 'not allowed'];
        yield 'pads numbers' => ['{{ 1|number_format(100000000) }}', 'not allowed'];
        yield 'formats' => ['{{ "%1000000000d"|format(1) }}', 'not allowed'];
        yield 'a pattern without end' => ['{{ "aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa!" matches "/(a+)+$/" }}', 'Nothing is assigned'];
        yield 'loops in loops in loops' => [
            '{% for a in alerts %}{% for b in alerts %}{% for c in alerts %}x{% endfor %}{% endfor %}{% endfor %}', 'Loops may be 2 deep',
        ];
        yield 'a macro of its own' => ['{% macro m() %}{{ _self.m() }}{% endmacro %}{{ _self.m() }}', ''];
        yield 'leaves the sandbox' => ['{% sandbox %}{% endsandbox %}', ''];
        yield 'a block' => ['{% block a %}x{% endblock %}', 'not allowed'];
        yield 'the cache' => ['{% cache "a" %}x{% endcache %}', ''];
        yield 'not said before' => ['{{ nothing_such }}', 'does not exist'];
        yield 'a list as a text' => ['{{ alerts ~ "x" }}', 'a list stands where'];
        yield 'divides by nothing' => ['{{ 1 // 0 }}', ''];
        yield 'not finished' => ['{{ incident.', ''];
        yield 'of another kind' => ['{% if over %}', ''];
    }

    #[DataProvider('hostile')]
    public function testWhatReadsRunsOrGrowsIsRefused(string $source, string $says): void
    {
        try {
            (new TemplateSandbox())->filled($source, self::VALUES);
            self::fail('it was filled in');
        } catch (BadTemplate $bad) {
            self::assertStringContainsStringIgnoringCase($says, $bad->getMessage());
        }
    }

    /** Whatever is typed: a text or our own error, in its moment. */
    public function testWhateverIsWritten(): void
    {
        mt_srand(20_261_128);
        $pieces = array_merge(...array_map(
            static fn(array $case): array => preg_split('~(?=[{%}|.( ])|(?<=[{%}|.( ])~', $case[0]) ?: [],
            [...array_values(iterator_to_array(self::filled())), ...array_values(iterator_to_array(self::hostile()))],
        ));
        $sandbox = new TemplateSandbox();
        $began = microtime(true);
        [$filled, $refused] = [0, 0];
        for ($i = 0; $i < 3_000; ++$i) {
            $source = implode('', array_map(static fn(): string => $pieces[mt_rand(0, count($pieces) - 1)], range(1, mt_rand(1, 25))));
            try {
                $sandbox->filled($source, self::VALUES);
                ++$filled;
            } catch (BadTemplate) {
                ++$refused;
            }
        }
        self::assertGreaterThan(100, min($filled, $refused), 'some of each');
        self::assertLessThan(Instance::patience(60), microtime(true) - $began);
    }
}
