<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;

final readonly class SettingsFields
{
    /**
     * @param int                   $mostAnHour  messages to one person by one way before what can wait is summed up; 0: as many as there are
     * @param int                   $mostAMinute the same, before all that comes more is summed up, however grave
     * @param string                $holidays    days, such as 2026-12-25, with commas or blanks between
     * @param string|null           $version     what was read
     * @param MailServerFields|null $mailServer  left out, it stays as it is
     */
    public function __construct(
        #[Line(400, 1)]
        public string $publicUrl,
        #[Line(180, 1)]
        public string $mailFrom,
        #[Line(60, 1)]
        public string $zone,
        #[Whole(1, 168)]
        public int $idleHours,
        #[Whole(1, 90)]
        public int $sessionDays,
        #[Whole(0, 1_000)]
        public int $mostAnHour = 20,
        #[Whole(0, 1_000)]
        public int $mostAMinute = 10,
        #[Text(8_000)]
        public string $holidays = '',
        #[Line(64)]
        public ?string $version = null,
        public ?MailServerFields $mailServer = null,
    ) {
    }
}
