<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\NearChange;
use Olivine\App\Delivery\Answer\UsualThen;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\People\Entity\AuditEntry;
use Olivine\App\People\Repository\AuditRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Store\UsualBand;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Symfony\Contracts\Cache\CacheInterface;
use Symfony\Contracts\Cache\ItemInterface;

/** What an incident stands beside: what is usual at that hour, and what else changed around its onset. */
final readonly class NearOnset
{
    private const BEFORE_HOURS = 2;
    private const OTHERS_MINUTES = 30;
    private const MOST = 8;
    private const STEP_MS = 120_000;
    private const KEPT_SECONDS = 3_600;
    /** Of what people did, what may change what is watched. */
    private const CHANGES = ['rule', 'target', 'group', 'mute', 'maintenance', 'channel', 'roster', 'template', 'action', 'settings', 'delivery'];

    public function __construct(
        private UsualBand $usual,
        private AuditRepository $audit,
        private PersonRepository $people,
        private IncidentRepository $incidents,
        private CacheInterface $cache,
    ) {
    }

    /** @return UsualThen|null null where too little was read at that hour of former weeks */
    public function usual(int $incidentId, string $formula, LabelSet $labels, Instant $at): ?UsualThen
    {
        return $this->cache->get("usual.{$incidentId}.{$at->ms}", function (ItemInterface $item) use ($formula, $labels, $at): ?UsualThen {
            $item->expiresAfter(self::KEPT_SECONDS);
            try {
                $band = $this->usual->of(Parser::parse($formula), $at->ms, $at->ms, self::STEP_MS, $labels)[$labels->key()] ?? null;
            } catch (FormulaError|TooMuchToRead) {
                return null;
            }
            [$low, $middle, $high] = [$band['low'][0] ?? null, $band['middle'][0] ?? null, $band['high'][0] ?? null];

            return $band === null || $low === null || $middle === null || $high === null ? null : new UsualThen($low, $middle, $high, $band['weeks']);
        });
    }

    /** @return list<NearChange> the newest first: what people changed in the hours before and since, and what else opened around it */
    public function changes(Incident $incident): array
    {
        $around = Duration::ofMinutes(self::OTHERS_MINUTES);
        $from = $incident->openedAt->minus(Duration::ofHours(self::BEFORE_HOURS));
        $to = $incident->openedAt->plus($around);
        $names = $this->people->names();
        $found = [];
        foreach ($this->audit->between($from, $to, self::CHANGES, self::MOST) as $entry) {
            $found[] = new NearChange($entry->at, self::words($entry, $names), null);
        }
        foreach ($this->incidents->openedBetween($incident->openedAt->minus($around), $to, self::MOST) as $other) {
            if ($other->id() !== $incident->id()) {
                $found[] = new NearChange($other->openedAt, $other->title, $other->id());
            }
        }
        usort($found, static fn(NearChange $a, NearChange $b): int => $b->at->ms <=> $a->at->ms);

        return array_slice($found, 0, self::MOST);
    }

    /** @param array<int, string> $names */
    private static function words(AuditEntry $entry, array $names): string
    {
        $who = $entry->personId === null ? 'Olivine' : $names[$entry->personId] ?? 'somebody who is gone';

        return "{$who} {$entry->action} {$entry->subject}";
    }
}
