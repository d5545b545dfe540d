<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Ago;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\AnyOf;
use Olivine\Core\Formula\Node\Binary;
use Olivine\Core\Formula\Node\Calendar;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\LabelOperator;
use Olivine\Core\Formula\Node\LabelTest;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Node\NoneOf;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Raised;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\Unary;
use Olivine\Core\Formula\Node\Unit;

/**
 * From tokens to the tree, by operator strength.
 *
 *     mean(messaging_queue_depth where service = "boarding-gate", 5m)   → OverTime(mean, Select, 300000 ms)
 *     sum(rate(requests_total, 1m)) per host                            → OverTime(rate, …) under AcrossSeries(sum), per host
 *     a = mean(x, 5m); a / y                                            → Binary(OverTime(mean, …), /, y)
 */
final class Parser
{
    /** Words of the language; a metric or label of that name stands in backquotes. */
    public const WORDS = ['where', 'and', 'or', 'not', 'in', 'like', 'matches', 'per', 'dropping', 'default', 'on', 'ago'];
    /** Words of baseline and deviation; a label of that name stands in backquotes where it is not the first of a list. */
    public const METHODS = ['median', 'mean', 'ewma', 'same_hour', 'same_weekday', 'mad', 'stddev'];
    private const LONGEST_SHIFT_SECONDS = 400 * 86_400;
    private const MAX_DEPTH = 60;
    private const MOST_TESTS = 200;
    private const MOST_EXPRESSIONS = 12;
    private const UNARY_STRENGTH = 7;
    private const LONGEST_KEPT_BYTES = 500;
    private const MOST_KEPT = 200;
    private const MOST_NAMES = 12;
    private const MOST_NODES = 400;

    /** @var array<string, Node> trees of short formulas that were parsed lately; nothing in a tree can change */
    private static array $kept = [];

    /** @var array<string, array{Node, Place}> what names of its own stand for, and where they are given */
    private array $named = [];
    /** @var array<string, true> */
    private array $used = [];
    private int $at = 0;
    private int $depth = 0;
    private int $tests = 0;
    private int $expressions = 0;

    /** @param list<Token> $tokens */
    private function __construct(private readonly array $tokens)
    {
    }

    /** @throws FormulaError */
    public static function parse(string $formula): Node
    {
        if (isset(self::$kept[$formula])) {
            return self::$kept[$formula];
        }
        $node = self::parsed($formula);
        if (strlen($formula) <= self::LONGEST_KEPT_BYTES) {
            self::$kept = count(self::$kept) < self::MOST_KEPT ? self::$kept : [];
            self::$kept[$formula] = $node;
        }

        return $node;
    }

    /**
     * What stands after `where`, by itself: `service = "tickets" and severity in ("critical", "major")`.
     *
     * @throws FormulaError
     */
    public static function filterOf(string $written): Filter
    {
        $parser = new self(Lexer::tokens($written));
        if ($parser->atEnd()) {
            throw new FormulaError(new Place(0, 0), 'The filter is empty; start with a label, such as service = "tickets"');
        }
        $filter = $parser->filter();
        if (!$parser->atEnd()) {
            $parser->unexpected('and, or, or the end of the filter');
        }

        return $filter;
    }

    /** @throws FormulaError */
    private static function parsed(string $formula): Node
    {
        $parser = new self(Lexer::tokens($formula));
        if ($parser->atEnd()) {
            throw new FormulaError(new Place(0, 0), 'The formula is empty; start with the name of a metric');
        }
        $names = count(array_filter($parser->tokens, self::isSemicolon(...)));
        for ($i = 0; $i < $names; ++$i) {
            $parser->nameOne();
        }
        $node = $parser->expression(0);
        if (!$parser->atEnd()) {
            $parser->unexpected('an operator or the end of the formula');
        }
        $idle = array_diff_key($parser->named, $parser->used);
        if ($idle !== []) {
            throw new FormulaError(reset($idle)[1], 'Nothing uses the name ' . array_key_first($idle));
        }

        return $node;
    }

    /**
     * Whether it gives names to parts of itself. Written out they would be lost, so such a formula stays as it was typed.
     *
     * @throws FormulaError
     */
    public static function hasNames(string $formula): bool
    {
        return str_contains($formula, ';') && array_any(Lexer::tokens($formula), self::isSemicolon(...));
    }

    private static function isSemicolon(Token $token): bool
    {
        return $token->kind === TokenKind::Sign && $token->text === ';';
    }

    /**
     * `used = system_filesystem_usage_bytes;`: from there on the name stands for that.
     *
     * @throws FormulaError
     */
    private function nameOne(): void
    {
        $name = $this->next();
        if ($name->kind !== TokenKind::Name || in_array($name->text, self::WORDS, true) || isset(Functions::ALL[$name->text])) {
            throw new FormulaError($name->place, 'Before each ; stands a name of your own and what it stands for, such as used = a / b');
        }
        if (isset($this->named[$name->text]) || count($this->named) >= self::MOST_NAMES) {
            throw new FormulaError(
                $name->place,
                isset($this->named[$name->text])
                    ? "{$name->text} is named already"
                    : sprintf('A formula has at most %d names', self::MOST_NAMES),
            );
        }
        $this->expectSign('=');
        $node = $this->expression(0);
        // A name in a name in a name may stand for more than anybody meant.
        if (self::size($node, self::MOST_NODES) > self::MOST_NODES) {
            throw new FormulaError($name->place, "{$name->text} stands for too much: written out it would have more than " . self::MOST_NODES . ' parts');
        }
        $this->expectSign(';');
        $this->named[$name->text] = [$node, $name->place];
    }

    /** How many parts it is made of, counted no further than needed. */
    private static function size(Node $node, int $most): int
    {
        $size = 1;
        foreach (Tree::children($node) as $child) {
            if ($size > $most) {
                break;
            }
            $size += self::size($child, $most - $size);
        }

        return $size;
    }

    /** @throws FormulaError */
    private function expression(int $least): Node
    {
        if (++$this->depth > self::MAX_DEPTH) {
            throw new FormulaError($this->peek()->place, sprintf('A formula nests at most %d levels deep', self::MAX_DEPTH));
        }
        $left = $this->shifted($this->operand());
        while (($operator = $this->operatorAhead()) !== null && $operator->strength() >= $least) {
            $this->next();
            $right = $this->expression($operator === Operator::Power ? $operator->strength() : $operator->strength() + 1);
            $on = null;
            if ($this->isWord('on')) {
                $this->next();
                $on = $this->labelList();
            }
            $left = new Binary($left->place()->to($right->place()), $operator, $left, $right, $on);
        }
        --$this->depth;

        return $left;
    }

    private function operatorAhead(): ?Operator
    {
        $token = $this->peek();
        if ($token->kind === TokenKind::Sign || $token->kind === TokenKind::Name) {
            return Operator::tryFrom($token->text);
        }

        return null;
    }

    /** @throws FormulaError */
    private function operand(): Node
    {
        $token = $this->peek();
        if ($token->kind === TokenKind::Number) {
            return Literal::read($this->next());
        }
        if ($this->isSign('(')) {
            $this->next();
            $inner = $this->expression(0);
            $this->expectSign(')');

            return $inner;
        }
        if ($this->isSign('-')) {
            $this->next();
            $of = $this->expression(self::UNARY_STRENGTH);

            return new Unary($token->place->to($of->place()), '-', $of);
        }
        if ($this->isWord('not')) {
            $this->next();
            $of = $this->expression(Operator::And->strength() + 1);

            return new Unary($token->place->to($of->place()), 'not', $of);
        }
        if (
            $token->kind === TokenKind::Quoted
            || ($token->kind === TokenKind::Name && !in_array($token->text, self::WORDS, true))
        ) {
            $this->next();
            $isCall = $token->kind === TokenKind::Name && $this->isSign('(');

            return match (true) {
                $isCall => $this->call($token),
                $token->kind === TokenKind::Name && isset($this->named[$token->text]) => $this->named($token),
                default => $this->select($token),
            };
        }
        $this->unexpected('a metric, a number, a function or (');
    }

    /** @throws FormulaError */
    private function named(Token $name): Node
    {
        if ($this->isWord('where')) {
            throw new FormulaError($this->peek()->place, "{$name->text} is a name here; write where into what it stands for");
        }
        $this->used[$name->text] = true;

        return $this->named[$name->text][0];
    }

    /** @throws FormulaError */
    private function select(Token $metric): Select
    {
        $where = null;
        $place = $metric->place;
        if ($this->isWord('where')) {
            $this->next();
            $where = $this->filter();
            $place = $place->to($this->tokens[$this->at - 1]->place);
        }

        return new Select($place, $metric->text, $where);
    }

    /** @throws FormulaError */
    private function filter(): Filter
    {
        $left = $this->filterTerm();
        while ($this->isWord('or')) {
            $this->next();
            $left = new AnyOf($left, $this->filterTerm());
        }

        return $left;
    }

    /** @throws FormulaError */
    private function filterTerm(): Filter
    {
        $left = $this->filterFactor();
        while ($this->isWord('and')) {
            $this->next();
            $left = new AllOf($left, $this->filterFactor());
        }

        return $left;
    }

    /** @throws FormulaError */
    private function filterFactor(): Filter
    {
        if (++$this->depth > self::MAX_DEPTH) {
            throw new FormulaError($this->peek()->place, sprintf('A formula nests at most %d levels deep', self::MAX_DEPTH));
        }
        if ($this->isWord('not')) {
            $this->next();
            $filter = new NoneOf($this->filterFactor());
        } elseif ($this->isSign('(')) {
            $this->next();
            $filter = $this->filter();
            $this->expectSign(')');
        } else {
            $filter = $this->labelTest();
        }
        --$this->depth;

        return $filter;
    }

    /** @throws FormulaError */
    private function labelTest(): LabelTest
    {
        $label = $this->label();
        $sign = $this->next();
        $word = $sign->text;
        if ($word === 'not' && $this->isWord('in')) {
            $this->next();
            $word = 'not in';
        }
        $operator = $sign->kind === TokenKind::Text ? null : LabelOperator::tryFrom($word);
        if ($operator === null) {
            throw new FormulaError(
                $sign->place,
                "After the label {$label->text} comes =, !=, in, not in, like or matches",
                $sign->kind === TokenKind::Name ? Nearest::to($sign->text, ['in', 'like', 'matches', 'not in']) : null,
            );
        }
        $this->countTest($operator, $label);
        $values = [];
        if ($operator === LabelOperator::In || $operator === LabelOperator::NotIn) {
            $this->expectSign('(');
            do {
                $values[] = $this->text();
            } while ($this->takeSign(','));
            $this->expectSign(')');
        } else {
            $place = $this->peek()->place;
            $values[] = $this->text();
            if ($operator === LabelOperator::Matches && @preg_match(LabelTest::pattern($values[0]), '') === false) {
                throw new FormulaError($place, 'This regular expression cannot be read: ' . preg_last_error_msg());
            }
        }

        return new LabelTest($label->place->to($this->tokens[$this->at - 1]->place), $label->text, $operator, $values);
    }

    /**
     * Each test is work for every series of its metric, and an expression a hundred times as much.
     *
     * @throws FormulaError
     */
    private function countTest(LabelOperator $operator, Token $label): void
    {
        if (++$this->tests > self::MOST_TESTS) {
            throw new FormulaError($label->place, sprintf('A formula has at most %d tests of labels', self::MOST_TESTS));
        }
        if ($operator === LabelOperator::Matches && ++$this->expressions > self::MOST_EXPRESSIONS) {
            throw new FormulaError(
                $label->place,
                sprintf(
                    'A formula has at most %d tests with matches; use in, like or one longer expression',
                    self::MOST_EXPRESSIONS,
                ),
            );
        }
    }

    /** @throws FormulaError */
    private function call(Token $name): Node
    {
        $this->expectSign('(');
        if (!isset(Functions::ALL[$name->text])) {
            throw new FormulaError(
                $name->place,
                "There is no function {$name->text}",
                Nearest::to($name->text, Functions::names()),
            );
        }
        $part = CalendarPart::tryFrom($name->text);
        if ($part !== null) {
            return $this->calendar($name, $part);
        }
        if ($name->text === 'raised') {
            $rule = $this->text();

            return new Raised($name->place->to($this->expectSign(')')->place), $rule);
        }
        $arguments = [];
        if (!$this->isSign(')')) {
            do {
                $arguments[] = $this->expression(0);
            } while ($this->takeSign(','));
        }
        $place = $name->place->to($this->expectSign(')')->place);
        $grouping = null;
        $groupingPlace = null;
        if ($this->isWord('per') || $this->isWord('dropping')) {
            $groupingPlace = $this->peek()->place;
            $grouping = new Grouping($this->next()->text === 'per', $this->labelList());
            $groupingPlace = $groupingPlace->to($this->tokens[$this->at - 1]->place);
            $place = $place->to($groupingPlace);
        }

        return (new Call($name, $arguments, $place, $grouping, $groupingPlace))->node();
    }

    /** @throws FormulaError */
    private function calendar(Token $name, CalendarPart $part): Calendar
    {
        $zone = 'UTC';
        $place = $this->peek()->place;
        if (!$this->isSign(')')) {
            $zone = $this->text();
        }
        if (!in_array($zone, \DateTimeZone::listIdentifiers(\DateTimeZone::ALL_WITH_BC), true)) {
            throw new FormulaError($place, "There is no time zone {$zone}", Nearest::to($zone, \DateTimeZone::listIdentifiers()));
        }

        return new Calendar($name->place->to($this->expectSign(')')->place), $part, new \DateTimeZone($zone));
    }

    /** @throws FormulaError */
    private function shifted(Node $node): Node
    {
        while ($this->isWord('ago')) {
            $this->next();
            $token = $this->peek();
            $by = $token->kind === TokenKind::Number ? Literal::read($this->next()) : $this->unexpected('a duration such as 7d');
            if ($by->unit !== Unit::Seconds || $by->value <= 0 || $by->value > self::LONGEST_SHIFT_SECONDS) {
                throw new FormulaError($by->place, 'ago needs a duration such as 7d, of at most 400d');
            }
            $node = new Ago($node->place()->to($by->place), $node, (int) round($by->value * 1000));
        }

        return $node;
    }

    /**
     * @return list<string>
     *
     * @throws FormulaError
     */
    private function labelList(): array
    {
        $labels = [];
        do {
            $labels[] = $this->label()->text;
            $more = $this->isSign(',') && $this->labelFollows();
            if ($more) {
                $this->next();
            }
        } while ($more);

        return $labels;
    }

    /**
     * After a comma: another label, or the next argument of the function all this stands in. That one opens a bracket or a
     * filter, or is a method with its span, as in `baseline(sum(x) per host, median, 14d)`.
     */
    private function labelFollows(): bool
    {
        $name = $this->tokens[$this->at + 1];
        if ($name->kind === TokenKind::Quoted) {
            return true;
        }
        $after = $this->tokens[$this->at + 2] ?? $name;
        $isMethod =
            in_array($name->text, self::METHODS, true)
            && $after->text === ','
            && ($this->tokens[$this->at + 3] ?? $name)->kind === TokenKind::Number;

        return $name->kind === TokenKind::Name && $after->text !== '(' && $after->text !== 'where' && !$isMethod;
    }

    /** @throws FormulaError */
    private function label(): Token
    {
        $token = $this->peek();
        if (
            $token->kind !== TokenKind::Quoted
            && ($token->kind !== TokenKind::Name || in_array($token->text, self::WORDS, true))
        ) {
            $this->unexpected('a label');
        }

        return $this->next();
    }

    /** @throws FormulaError */
    private function text(): string
    {
        if ($this->peek()->kind !== TokenKind::Text) {
            $this->unexpected('a text in double quotes');
        }

        return $this->next()->text;
    }

    private function peek(): Token
    {
        return $this->tokens[$this->at];
    }

    private function next(): Token
    {
        $token = $this->tokens[$this->at];
        if ($token->kind !== TokenKind::End) {
            ++$this->at;
        }

        return $token;
    }

    /** @phpstan-impure */
    private function atEnd(): bool
    {
        return $this->peek()->kind === TokenKind::End;
    }

    /** @phpstan-impure */
    private function isWord(string $word): bool
    {
        return $this->peek()->kind === TokenKind::Name && $this->peek()->text === $word;
    }

    /** @phpstan-impure */
    private function isSign(string $sign): bool
    {
        return $this->peek()->kind === TokenKind::Sign && $this->peek()->text === $sign;
    }

    private function takeSign(string $sign): bool
    {
        if (!$this->isSign($sign)) {
            return false;
        }
        $this->next();

        return true;
    }

    /** @throws FormulaError */
    private function expectSign(string $sign): Token
    {
        return $this->isSign($sign) ? $this->next() : $this->unexpected("{$sign}");
    }

    /** @throws FormulaError */
    private function unexpected(string $expected): never
    {
        $token = $this->peek();

        throw new FormulaError(
            $token->place,
            "Expected {$expected}, found " . ($token->kind === TokenKind::End ? 'the end' : $token->text),
        );
    }
}
