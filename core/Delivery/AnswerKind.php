<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** What somebody says who was told. */
enum AnswerKind: string
{
    case Acknowledge = 'acknowledge';
    case Take = 'take';
    /** It climbs at once. */
    case Cannot = 'cannot';
    case HandOver = 'hand over';
    case Note = 'note';

    /** The word by which a short message says it. */
    public function word(): string
    {
        return match ($this) {
            self::Acknowledge => 'ok',
            self::Take => 'take',
            self::Cannot => 'no',
            self::HandOver => 'give',
            self::Note => 'note',
        };
    }

    /** The key by which it is said in a call; "" where it takes more than a key. */
    public function key(): string
    {
        return match ($this) {
            self::Acknowledge => '1',
            self::Take => '2',
            self::Cannot => '3',
            self::HandOver, self::Note => '',
        };
    }
}
