<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Mail;

use Olivine\Core\Check\Phases;

/** What became of a letter: handed to a mail server, then looked for in a mailbox. */
final readonly class MailExchange
{
    /**
     * @param Phases      $phases  `wait` until the server took the letter over, `transfer` from then until it lay in the mailbox
     * @param MailStage   $reached how far it came
     * @param string|null $fault   why not further, as a sentence without a full stop
     * @param bool        $isOurs  whether that is our own fault
     * @param int         $late    letters of former rounds that were found only now
     */
    public function __construct(
        public Phases $phases,
        public MailStage $reached,
        public ?string $fault = null,
        public bool $isOurs = false,
        public int $late = 0,
    ) {
    }
}
