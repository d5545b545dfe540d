<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\PartName;
use Olivine\Core\Time\Instant;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/**
 * A kind of way to reach people. It writes what it is given as fits it, and hands it over under the key of the notice, so that
 * whoever receives it knows a repeat for what it is. Each has a queue of its own, which one process at a time empties: a channel
 * that hangs delays nobody but itself.
 */
#[AutoconfigureTag('olivine.channel')]
interface Channel
{
    /** Whose queue its messages wait in. */
    public function part(): PartName;

    /** @return list<string> the ways that are set up, as deliveries name them and the trail says them: `e-mail`, `pier-hook` */
    public function ways(): array;

    /** @return list<string> ways that single people have beside these: `e-mail/phone` */
    public function personal(): array;

    /** What is missing so that anything can go this way, in words with the remedy; empty: nothing is. */
    public function missing(string $way): string;

    public function carries(): Carrying;

    /** How a person is reached by a way, in words: `e-mail to Ines Duarte <ines@saltmarsh.example>`. */
    public function addressOf(string $way, ?Person $person): string;

    /**
     * It must come to its end within SendBound::SECONDS, well before the slot could be another's.
     *
     * @param Person|null $person null: whoever reads there
     *
     * @throws NotHandedOver where it was not taken over there, and may be later
     */
    public function send(string $way, Notice $notice, ?Person $person): Receipt;

    /**
     * Several in one message, for what could wait; the key is that of the first.
     *
     * @param non-empty-list<Notice> $notices
     * @param Person|null            $person  null: whoever reads there
     *
     * @throws NotHandedOver
     */
    public function sendTogether(string $way, array $notices, ?Person $person): Receipt;

    /**
     * Sends a few words to whoever asks.
     *
     * @throws NotHandedOver
     */
    public function test(string $way, Person $person, Instant $at): Receipt;

    /** @return list<string> ways that were set up otherwise since this was asked last, so that what waits for them need not wait any more */
    public function setAnew(): array;

    /** While there is nothing to send it lets go of what it holds open. */
    public function rest(): void;
}
