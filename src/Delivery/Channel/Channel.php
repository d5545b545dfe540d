<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\People\Entity\Person;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/**
 * A way to reach people. It writes what it is given as fits it, and hands it over under the key of the notice, so that whoever
 * receives it knows a repeat for what it is.
 */
#[AutoconfigureTag('olivine.channel')]
interface Channel
{
    /** As deliveries name it, and as the trail says it. */
    public function name(): string;

    /** How a person is reached through it, in words: `e-mail to Ines Duarte <ines@saltmarsh.example>`. */
    public function addressOf(Person $person): string;

    /** @throws NotTaken where it was not taken over there, and may be later */
    public function send(Notice $notice, Person $person): Receipt;

    /** @return bool whether it was set up otherwise since it was asked last, so that what waits for it need not wait any more */
    public function wasSetAnew(): bool;

    /** While there is nothing to send it lets go of what it holds open. */
    public function rest(): void;
}
