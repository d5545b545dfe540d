<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Text;

/** What somebody answered, as the program brings it that reached them. */
final readonly class ArrivedAnswer
{
    /**
     * @param string $id      of the answer, over there: one that comes twice is done once
     * @param string $from    the number, or the name in the chat
     * @param string $text    what was written
     * @param string $key     what was pressed in a call
     * @param string $button  what was pressed in a chat: acknowledge, take or cannot
     * @param string $message the id of our message that it is of; "" where it is of none in particular
     */
    public function __construct(
        #[Line(80, 1)]
        public string $id,
        #[Line(180, 1)]
        public string $from,
        #[Text(2_000)]
        public string $text = '',
        #[Line(4)]
        public string $key = '',
        #[Line(20)]
        public string $button = '',
        #[Line(120)]
        public string $message = '',
    ) {
    }
}
