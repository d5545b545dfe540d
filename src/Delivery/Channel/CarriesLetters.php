<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

use Olivine\App\People\Entity\Person;

/** A channel that also carries what is of no incident, to one person: a code, a handover note. */
interface CarriesLetters
{
    /**
     * @param string $address "": where the person is reached by it else
     *
     * @throws NotHandedOver
     */
    public function letter(string $way, Person $person, string $address, string $subject, string $text, string $key): Receipt;
}
