<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\App\Collect\Credentials;
use Olivine\App\Platform\Repository\KeptSettingRepository;
use Symfony\Contracts\Service\ResetInterface;

/**
 * What an instance is told: by its env file to begin with, and by whoever set it in Setup since. Parts that live long see
 * a change within seconds, without being started anew.
 */
final class Settings implements ResetInterface
{
    private const KEPT_AS = 'instance';
    private const KEEP_NS = 2_000_000_000;
    /** @var array<string, string>|null */
    private ?array $set = null;
    private int $knownAtNs = 0;

    public function __construct(
        private readonly KeptSettingRepository $kept,
        private readonly Credentials $seals,
        private readonly string $publicUrl,
        private readonly string $mailFrom,
        private readonly string $mailDsn,
        private readonly string $zone,
        public readonly int $gatherSeconds,
        public readonly int $secondRungSeconds,
        public readonly string $stateDir,
        public readonly string $projectDir,
    ) {
    }

    public function reset(): void
    {
        $this->set = null;
    }

    /** Where people reach this instance: links in messages begin with it. */
    public function publicUrl(): string
    {
        return $this->of(Setting::PublicUrl) ?? $this->publicUrl;
    }

    public function mailFrom(): string
    {
        return $this->of(Setting::MailFrom) ?? $this->mailFrom;
    }

    /** @return string "" where no mail server is set */
    public function mailDsn(): string
    {
        $sealed = $this->of(Setting::MailDsn);

        return $sealed === null ? $this->mailDsn : $this->seals->openText($sealed);
    }

    public function zone(): \DateTimeZone
    {
        try {
            return new \DateTimeZone($this->of(Setting::Zone) ?? $this->zone);
        } catch (\Exception) {
            return new \DateTimeZone('UTC');
        }
    }

    /** @return int how long somebody who does nothing stays signed in, hours */
    public function idleHours(): int
    {
        return (int) ($this->of(Setting::IdleHours) ?? 12);
    }

    /** @return int how long anybody stays signed in at most, days */
    public function sessionDays(): int
    {
        return (int) ($this->of(Setting::SessionDays) ?? 7);
    }

    /** @return int messages an hour to one person by one way, before what can wait is summed up; 0: as many as there are */
    public function mostAnHour(): int
    {
        return (int) ($this->of(Setting::MostAnHour) ?? 20);
    }

    /** @return int messages a minute to one person by one way, before all that comes more is summed up; 0: as many as there are */
    public function mostAMinute(): int
    {
        return (int) ($this->of(Setting::MostAMinute) ?? 10);
    }

    /** @return list<string> those of its holidays that were entered here, without those of calendars */
    public function enteredHolidays(): array
    {
        $kept = $this->of(Setting::Holidays) ?? '';

        return $kept === '' ? [] : explode(', ', $kept);
    }

    /** @return list<string> days of this site that say nothing of other days: 2026-12-25 */
    public function holidays(): array
    {
        $kept = array_filter([$this->of(Setting::Holidays), $this->of(Setting::CalendarHolidays)], static fn(?string $one): bool => ($one ?? '') !== '');

        return $kept === [] ? [] : array_values(array_unique(explode(', ', implode(', ', $kept))));
    }

    /** @param array<string, string> $values setting → value, as it is kept */
    public function keep(array $values): void
    {
        $json = json_encode(array_replace($this->stored(), $values), JSON_THROW_ON_ERROR);
        $this->kept->keep(self::KEPT_AS, $json);
        $this->reset();
    }

    /** What was sealed so. */
    public function open(string $sealed): string
    {
        return $this->seals->openText($sealed);
    }

    public function seal(#[\SensitiveParameter] string $text): string
    {
        return $this->seals->sealText($text);
    }

    private function of(Setting $setting): ?string
    {
        $now = (int) hrtime(true);
        if ($this->set === null || $now - $this->knownAtNs > self::KEEP_NS) {
            $this->set = $this->stored();
            $this->knownAtNs = $now;
        }

        return $this->set[$setting->value] ?? null;
    }

    /** @return array<string, string> */
    private function stored(): array
    {
        $kept = json_decode($this->kept->value(self::KEPT_AS) ?? '[]', true, 4, JSON_THROW_ON_ERROR);

        /** @var array<string, string> */
        return array_filter((array) $kept, is_string(...));
    }
}
