<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Delivery\Entity\KeptChannel;
use Olivine\App\Delivery\Entity\TemplateRevision;
use Olivine\App\Delivery\Template\TemplateSandbox;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Delivery\MessageKind;

/** A template to be looked at, on an incident that there was. */
final readonly class TemplatePreviewFields
{
    /** @param int|null $incident null: the newest one */
    public function __construct(
        #[Line(KeptChannel::NAME_LENGTH, 1)]
        public string $way,
        #[Line(TemplateRevision::SUBJECT_LENGTH)]
        public string $subject = '',
        #[Text(TemplateSandbox::LONGEST_SOURCE)]
        public string $text = '',
        #[Whole(1, PHP_INT_MAX)]
        public ?int $incident = null,
        public MessageKind $kind = MessageKind::Raised,
    ) {
    }
}
