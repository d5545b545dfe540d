<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** How one is reached oneself. */
final readonly class OwnContacts
{
    /**
     * @param list<ShownContact> $contacts the address that one signs in with first
     * @param string             $junk     what is likely to be wrong where a code lies among junk
     */
    public function __construct(public array $contacts, public string $junk)
    {
    }
}
