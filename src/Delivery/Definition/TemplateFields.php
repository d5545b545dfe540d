<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Delivery\Entity\TemplateRevision;
use Olivine\App\Delivery\Template\TemplateSandbox;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;

/** How a channel words its messages to a team. */
final readonly class TemplateFields
{
    /**
     * @param string $way     e-mail, or the name of a channel
     * @param string $team    "": everyone
     * @param string $subject Twig; "": as it ships
     * @param string $text    Twig; "": as it ships
     * @param int    $number  of the revision that was read; 0: there was none
     */
    public function __construct(
        #[Line(KeptChannel::NAME_LENGTH, 1)]
        public string $way,
        #[Line(TemplateRevision::TEAM_LENGTH)]
        public string $team = '',
        #[Line(TemplateRevision::SUBJECT_LENGTH)]
        public string $subject = '',
        #[Text(TemplateSandbox::LONGEST_SOURCE)]
        public string $text = '',
        #[Whole(0, PHP_INT_MAX)]
        public int $number = 0,
    ) {
    }
}
