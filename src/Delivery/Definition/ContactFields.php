<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Delivery\Entity\ContactMethod;
use Olivine\App\Platform\Definition\Field\Line;

/** Another way to reach oneself. */
final readonly class ContactFields
{
    /** @param string $label what it is called, such as phone */
    public function __construct(
        #[Line(ContactMethod::LABEL_LENGTH, 1)]
        public string $label,
        #[Line(180, 3)]
        public string $address,
        public ContactKind $kind = ContactKind::Mail,
    ) {
    }
}
