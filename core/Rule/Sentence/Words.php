<?php

declare(strict_types=1);

namespace Olivine\Core\Rule\Sentence;

use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Lexer;
use Olivine\Core\Formula\Nearest;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Unit;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Token;
use Olivine\Core\Formula\TokenKind;
use Olivine\Core\Time\Duration;

/** The words of one part of a rule, taken one after the other; numbers, shares and durations as in formulas. */
final class Words
{
    private int $at = 0;

    /** @param list<Token> $tokens the last one is the end */
    private function __construct(private readonly string $part, private readonly array $tokens)
    {
    }

    /** @throws BadSentence where it holds what no words are made of */
    public static function of(string $part, string $text): self
    {
        try {
            return new self($part, Lexer::tokens($text));
        } catch (FormulaError $error) {
            throw new BadSentence($part, $error->place, $error->getMessage());
        }
    }

    public function isAtEnd(): bool
    {
        return $this->next()->kind === TokenKind::End;
    }

    /** Takes these words where they come next. */
    public function took(string ...$words): bool
    {
        foreach ($words as $i => $word) {
            if (!$this->isWord($this->tokens[$this->at + (int) $i] ?? null, $word)) {
                return false;
            }
        }
        $this->at += count($words);

        return true;
    }

    /**
     * @param string $example of what stands there
     *
     * @throws BadSentence where other words come
     */
    public function take(string $example, string ...$words): void
    {
        foreach ($words as $word) {
            if (!$this->took($word)) {
                throw $this->fault("here comes {$word}, such as {$example}", [$word]);
            }
        }
    }

    /**
     * @template T
     *
     * @param non-empty-array<string, T> $choices words → what they mean
     *
     * @return T
     *
     * @throws BadSentence where none of them comes
     */
    public function choose(array $choices): mixed
    {
        $words = array_map(strval(...), array_keys($choices));
        // The longest first: "at or below" before "at".
        usort($words, static fn(string $a, string $b): int => strlen($b) <=> strlen($a));
        foreach ($words as $said) {
            if ($this->took(...explode(' ', $said))) {
                return $choices[$said];
            }
        }
        $known = implode(', ', array_map(strval(...), array_keys($choices)));

        throw $this->fault("here comes one of {$known}", $words);
    }

    /** @throws BadSentence where no number comes */
    public function number(): float
    {
        return $this->literal('here comes a number, such as 400, 2GiB or 80%')->value;
    }

    /**
     * @return array{float, bool} a number, and whether it is written as a share
     *
     * @throws BadSentence where other words are expected, with their place
     */
    public function amount(): array
    {
        $number = $this->literal('here comes an amount, such as 400, or a share, such as 20%');

        return [$number->value, $number->unit === Unit::Ratio];
    }

    /** @throws BadSentence where no whole number comes */
    public function count(): int
    {
        $token = $this->next();
        if ($token->kind !== TokenKind::Number || preg_match('~^\d{1,6}$~D', $token->text) !== 1) {
            throw $this->fault('here comes a whole number, such as 3');
        }
        ++$this->at;

        return (int) $token->text;
    }

    /** @throws BadSentence where no duration comes */
    public function duration(): Duration
    {
        $place = $this->next()->place;
        $number = $this->literal('here comes a duration, such as 5m');
        if ($number->value !== 0.0 && $number->unit !== Unit::Seconds) {
            throw new BadSentence($this->part, $place, 'here comes a duration, such as 5m');
        }

        return Duration::ofMs((int) round(1000 * min($number->value, 1e12)));
    }

    /**
     * Labels with commas between.
     *
     * @return non-empty-list<string>
     *
     * @throws BadSentence where none comes
     */
    public function labels(): array
    {
        $labels = [];
        do {
            $token = $this->next();
            if ($token->kind !== TokenKind::Name && $token->kind !== TokenKind::Quoted) {
                throw $this->fault('here comes a label, such as service');
            }
            $labels[] = $token->text;
            ++$this->at;
            $isMore = $this->isWord($this->next(), ',');
            $this->at += $isMore ? 1 : 0;
        } while ($isMore);

        return $labels;
    }

    /** @throws BadSentence where anything is left */
    public function end(): void
    {
        if (!$this->isAtEnd()) {
            throw $this->fault("nothing is expected here any more, but there is {$this->next()->text}");
        }
    }

    /** @param list<string> $known words that could stand here */
    public function fault(string $message, array $known = []): BadSentence
    {
        $token = $this->next();
        $near = $token->kind === TokenKind::Name ? Nearest::to($token->text, $known) : null;
        $remedy = $near === null ? '' : "; did you mean {$near}?";

        return new BadSentence($this->part, $token->place, $message . $remedy);
    }

    /** @throws BadSentence */
    private function literal(string $expected): Number
    {
        $isNegative = $this->isWord($this->next(), '-');
        $this->at += $isNegative ? 1 : 0;
        $token = $this->next();
        if ($token->kind !== TokenKind::Number) {
            throw $this->fault($expected);
        }
        try {
            $number = Parser::parse($token->text);
        } catch (FormulaError $error) {
            $place = new Place($token->place->offset + $error->place->offset, $error->place->length);
            throw new BadSentence($this->part, $place, $error->getMessage());
        }
        if (!$number instanceof Number || !is_finite($number->value)) {
            throw $this->fault($expected);
        }
        ++$this->at;

        return $isNegative ? new Number($number->place, -$number->value, $number->unit, $number->text) : $number;
    }

    private function next(): Token
    {
        return $this->tokens[min($this->at, count($this->tokens) - 1)];
    }

    private function isWord(?Token $token, string $word): bool
    {
        return $token !== null && $token->text === $word && in_array($token->kind, [TokenKind::Name, TokenKind::Sign], true);
    }
}
