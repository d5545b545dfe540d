<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Answer;

final readonly class Settings
{
    public function __construct(
        public string $holidays,
        public int $idleHours,
        public string $mailFrom,
        public ?MailServer $mailServer,
        public int $mostAMinute,
        public int $mostAnHour,
        public string $publicUrl,
        public int $sessionDays,
        public string $version,
        public string $zone,
    ) {
    }

    public function withVersion(string $version): self
    {
        return new self(...['version' => $version] + get_object_vars($this));
    }
}
