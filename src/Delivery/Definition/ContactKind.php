<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Delivery\Channel\ChannelKind;
use Olivine\App\People\Addresses;
use Olivine\App\Platform\Problem;

/** What an address is by which a person is reached. */
enum ContactKind: string
{
    case Mail = 'e-mail';
    /** A number that is written to and called. */
    case Phone = 'phone';
    /** A name in chat rooms. */
    case Chat = 'chat';

    /** @return ChannelKind|null by what a code goes there; null: by mail */
    public function reachedBy(): ?ChannelKind
    {
        return match ($this) {
            self::Mail => null,
            self::Phone => ChannelKind::Sms,
            self::Chat => ChannelKind::Chat,
        };
    }

    /**
     * The address as it is kept: a number as +351911550123, a name as @ines.
     *
     * @throws Problem naming the field
     */
    public function checked(string $address): string
    {
        if ($this === self::Mail) {
            return Addresses::checked('address', $address);
        }
        if ($this === self::Phone) {
            $number = (string) preg_replace('~[\s().-]~', '', $address);

            return preg_match('~^\+[1-9]\d{6,14}$~D', $number) === 1
                ? $number
                : throw Problem::field('address', 'address must be a number with its country, such as +351 911 550 123');
        }
        $name = '@' . mb_strtolower(ltrim(trim($address), '@'));

        return preg_match('~^@[\p{L}\p{N}][\p{L}\p{N}._-]{0,39}$~uD', $name) === 1
            ? $name
            : throw Problem::field('address', 'address must be a name in the chat, such as @ines');
    }
}
