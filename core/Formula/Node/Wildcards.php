<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/**
 * The pattern of `like`, over the whole value: `*` stands for any characters or none, `?` for exactly one.
 *
 * By example, `web-*-a` is web-, then as little as leads to the end in -a: it accepts `web-3-a` and `web--a-a`, not `web-a`.
 * Of several `*` each but the last takes the first place where what follows it fits, and never gives it back: a later
 * place could only leave less for the rest. So the work grows with the length of the value, whatever the pattern.
 */
final readonly class Wildcards
{
    private string $expression;

    public function __construct(string $pattern)
    {
        $pieces = array_map(self::piece(...), explode('*', $pattern));
        $last = array_pop($pieces);
        if ($pieces === []) {
            $this->expression = "~^{$last}\$~Dsu";

            return;
        }
        $first = array_shift($pieces);
        $between = '';
        foreach ($pieces as $piece) {
            $between .= $piece === '' ? '' : "(?>.*?{$piece})";
        }
        $this->expression = "~^{$first}{$between}.*{$last}\$~Dsu";
    }

    public function accepts(string $value): bool
    {
        return preg_match($this->expression, $value) === 1;
    }

    private static function piece(string $text): string
    {
        return implode('.', array_map(static fn(string $plain): string => preg_quote($plain, '~'), explode('?', $text)));
    }
}
