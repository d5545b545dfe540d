<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Problem;
use Sabre\VObject\Component\VCard;
use Sabre\VObject\Parser\Parser;
use Sabre\VObject\Property;
use Sabre\VObject\Splitter\VCard as Splitter;

/** People as vCards (RFC 6350), out and in. */
final readonly class PersonCards
{
    private const MOST = 1_000;
    private const LONGEST_NAME = 120;
    private const BY = '-//Olivine//People//EN';

    /** @param list<Person> $people */
    public static function of(array $people): string
    {
        $text = '';
        foreach ($people as $person) {
            $card = new VCard(['VERSION' => '4.0', 'PRODID' => self::BY, 'FN' => $person->name, 'ROLE' => $person->role->value]);
            $card->add('EMAIL', $person->email, ['TYPE' => 'work']);
            $card->add('UID', 'urn:olivine:person:' . $person->id());
            $text .= $card->serialize();
        }

        return $text;
    }

    /**
     * @return list<array{string, string}> name and address of each card; one without an address is left out
     *
     * @throws Problem naming the field, where it cannot be read
     */
    public static function read(string $text): array
    {
        // What the reader of the library stumbles over is a fault of the cards.
        set_error_handler(static fn(int $level, string $message): never => throw new \UnexpectedValueException($message), E_WARNING | E_NOTICE);
        try {
            return self::cards($text);
        } catch (Problem $problem) {
            throw $problem;
        } catch (\Throwable $error) {
            throw Problem::field('text', 'text: these are no vCards: ' . mb_strcut(OneLine::of(mb_scrub($error->getMessage())), 0, 200));
        } finally {
            restore_error_handler();
        }
    }

    /**
     * @return list<array{string, string}>
     *
     * @throws Problem
     */
    private static function cards(string $text): array
    {
        $stream = fopen('php://temp', 'r+b');
        if ($stream === false) {
            throw new \LogicException('There is no memory to read in');
        }
        fwrite($stream, $text);
        rewind($stream);
        $splitter = new Splitter($stream, Parser::OPTION_FORGIVING);
        $read = [];
        $count = 0;
        while (($card = $splitter->getNext()) !== null) {
            if (++$count > self::MOST) {
                throw Problem::field('text', 'text: more than ' . self::MOST . ' vCards at once are too many');
            }
            $said = static fn(string $name): string => ($one = $card->select($name)[0] ?? null) instanceof Property ? trim((string) $one) : '';
            $email = mb_strtolower($said('EMAIL'));
            if ($email !== '') {
                $read[] = [mb_substr(OneLine::of(mb_scrub($said('FN') === '' ? $email : $said('FN'))), 0, self::LONGEST_NAME), $email];
            }
        }

        return $count === 0 ? throw Problem::field('text', 'text: there is no vCard in it') : $read;
    }
}
