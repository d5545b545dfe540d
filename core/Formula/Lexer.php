<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Place;

/** Cuts a formula into tokens. In a text only the quote and the backslash are escaped, so an expression keeps its `\d`. */
final class Lexer
{
    public const MAX_BYTES = 8_000;

    private const TOKEN = '~\G(?:(?<space>\s+)
        |(?<number>(?:\d+(?:\.\d+)?|\.\d+)(?:[eE][+-]?\d+)?(?:%(?![\w(.`])|[a-zA-Z][a-zA-Z0-9]*)?)
        |"(?<text>(?:[^"\\\\]|\\\\.)*+)"
        |`(?<quoted>[^`]+)`
        |(?<name>[a-zA-Z_:][a-zA-Z0-9_:]*)
        |(?<sign><=|>=|!=|[-+*/%^=<>(),;]))~xs';

    /**
     * @return list<Token> the last one is the end
     *
     * @throws FormulaError
     */
    public static function tokens(string $formula): array
    {
        if (strlen($formula) > self::MAX_BYTES) {
            throw new FormulaError(
                new Place(self::MAX_BYTES, 1),
                sprintf('A formula holds at most %d bytes; this one has %d', self::MAX_BYTES, strlen($formula)),
            );
        }
        if (!mb_check_encoding($formula, 'UTF-8')) {
            throw new FormulaError(new Place(0, strlen($formula)), 'The formula is not valid UTF-8');
        }
        $tokens = [];
        $at = 0;
        $end = strlen($formula);
        while ($at < $end) {
            if (preg_match(self::TOKEN, $formula, $part, PREG_UNMATCHED_AS_NULL, $at) !== 1) {
                $character = mb_substr(substr($formula, $at), 0, 1);
                throw new FormulaError(
                    new Place($at, strlen($character)),
                    match ($character) {
                        '"' => 'This text has no closing "',
                        '`' => 'This name has no closing `',
                        default => "Nothing in a formula starts with {$character}",
                    },
                );
            }
            $place = new Place($at, strlen($part[0]));
            $at += $place->length;
            if ($part['space'] !== null) {
                continue;
            }
            $tokens[] = match (true) {
                $part['number'] !== null => new Token(TokenKind::Number, $part['number'], $place),
                $part['text'] !== null => new Token(
                    TokenKind::Text,
                    (string) preg_replace('~\\\\(["\\\\])~', '$1', $part['text']),
                    $place,
                ),
                $part['quoted'] !== null => new Token(TokenKind::Quoted, $part['quoted'], $place),
                $part['name'] !== null => new Token(TokenKind::Name, $part['name'], $place),
                default => new Token(TokenKind::Sign, (string) $part['sign'], $place),
            };
        }
        $tokens[] = new Token(TokenKind::End, '', new Place($end, 0));

        return $tokens;
    }
}
