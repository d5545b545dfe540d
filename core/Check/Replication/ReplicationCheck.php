<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Replication;

use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Judgement;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Verdict;

/**
 * A source and the partners that follow it, each by its distance. Down: the source cannot be reached. Runs partly: a partner cannot be
 * reached, does not follow, or is further behind than it may be.
 */
final readonly class ReplicationCheck
{
    public function __construct(public float $mostSeconds, public int $patienceMs, public ?int $slowMs = null)
    {
    }

    /** @param array<int|string, ReplicationEnd> $partners by name */
    public function judge(Phases $phases, ReplicationEnd $source, array $partners): Judgement
    {
        $theirs = array_filter($partners, static fn(ReplicationEnd $end): bool => !$end->isOurs);
        $faults = $source->fault === null ? $this->faults($source, $partners) : ["The source: {$source->fault}"];
        $verdict = match (true) {
            $source->isOurs => Verdict::Unknown,
            $source->fault !== null => Verdict::Down,
            $this->faults($source, $theirs) !== [] => Verdict::Partly,
            count($theirs) < count($partners) => Verdict::Unknown,
            default => Verdict::Runs,
        };
        $seconds = $phases->total();
        $isSlow = $verdict === Verdict::Runs && $this->slowMs !== null && $seconds * 1000 > $this->slowMs;
        $words = $isSlow ? Judgement::slow($seconds, (int) $this->slowMs) : implode('; ', $faults);
        $readings = CheckReading::common($verdict, $phases, $isSlow);
        foreach ($source->fault === null ? $partners : [] as $name => $partner) {
            $readings = [...$readings, ...self::ofPartner((string) $name, $source, $partner)];
        }

        return new Judgement($verdict, $words, $readings);
    }

    /**
     * @param array<int|string, ReplicationEnd> $partners
     *
     * @return list<string>
     */
    private function faults(ReplicationEnd $source, array $partners): array
    {
        $faults = [];
        foreach ($partners as $name => $partner) {
            $seconds = self::seconds($source, $partner);
            if ($partner->fault !== null) {
                $faults[] = "{$name}: {$partner->fault}";
            } elseif ($seconds !== null && $seconds > $this->mostSeconds) {
                $faults[] = sprintf('%s is %s s behind, more than %s s', $name, number_format($seconds), number_format($this->mostSeconds));
            } elseif ($seconds === null) {
                $faults[] = "{$name} does not know how far it is behind";
            }
        }

        return $faults;
    }

    /** @return list<CheckReading> */
    private static function ofPartner(string $name, ReplicationEnd $source, ReplicationEnd $partner): array
    {
        if ($partner->isOurs) {
            return [];
        }
        $labels = ['partner' => $name];
        $readings = [new CheckReading('check_replication_follows', $partner->fault === null ? 1.0 : 0.0, $labels)];
        $seconds = $partner->fault === null ? self::seconds($source, $partner) : null;
        $behind = $source->ahead($partner);
        if ($seconds !== null) {
            $readings[] = new CheckReading('check_replication_seconds', $seconds, $labels, unit: 'seconds');
        }
        if ($behind !== null) {
            $readings[] = new CheckReading('check_replication_behind', $behind, $labels);
        }

        return $readings;
    }

    /** One that has all there is, is not behind, however long ago the last of it came. */
    private static function seconds(ReplicationEnd $source, ReplicationEnd $partner): ?float
    {
        return $source->ahead($partner) === 0.0 ? 0.0 : $partner->seconds;
    }
}
