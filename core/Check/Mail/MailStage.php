<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Mail;

/** How far a letter came. */
enum MailStage: string
{
    case Nowhere = 'nowhere';
    /** The mail server answers, and has not taken it. */
    case Greeted = 'greeted';
    /** It was taken, and has not been seen since. */
    case Accepted = 'accepted';
    case Seen = 'seen';
}
