<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Collect\Answer\CheckStep;
use Olivine\App\Collect\Check\ReportedRun;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Scalar;
use Olivine\App\Platform\SetAside;
use Symfony\Component\Serializer\Normalizer\DenormalizerInterface;

/**
 * What stations brought, until the collector takes it over: kept as it came, in one transaction with how far the station is taken,
 * and let go of in the one that writes its readings. So each is taken once, whoever is killed when.
 */
final readonly class Arrivals
{
    private const AT_ONCE = 500;

    public function __construct(
        private Database $database,
        private TargetRepository $targets,
        private DenormalizerInterface $denormalizer,
        private SetAside $aside,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @param list<array{Result, int}> $results each with when it was, by our clock */
    public function keep(int $place, array $results): void
    {
        $this->database->insertNew(
            'arrival',
            ['slot', 'target_id', 'place', 'at', 'packed'],
            array_map(static fn(array $one): array => [
                PartName::Collector->slotOf($one[0]->check),
                $one[0]->check,
                $place,
                $one[1],
                (string) gzdeflate($one[0]->line(), 1),
            ], $results),
        );
    }

    /**
     * @param list<int>          $slots
     * @param array<int, Target> $checks by their id
     *
     * @return list<ReportedRun> the oldest first; what cannot be read, or is of no check any more, is let go of
     */
    public function next(array $slots, array $checks): array
    {
        if ($slots === []) {
            return [];
        }
        $rows = $this->database->connection->fetchAllNumeric(
            'SELECT id, target_id, place, at, packed FROM arrival WHERE slot IN (?) ORDER BY id LIMIT ' . self::AT_ONCE,
            [$slots],
            [ArrayParameterType::INTEGER],
        );
        [$runs, $gone] = [[], []];
        foreach ($rows as [$id, $target, $place, $at, $packed]) {
            // Of one that is paused by now, what was seen before is still its own.
            $check = $checks[Scalar::int($target)] ?? $this->targets->find(Scalar::int($target));
            try {
                $run = $check === null ? null : $this->run($check, Scalar::int($place), Scalar::int($id), Scalar::int($at), Scalar::text($packed));
            } catch (\Throwable $error) {
                $run = null;
                $this->aside->put('collector', 'what a station brought of check ' . Scalar::text($target), $error->getMessage(), $this->clock->now());
            }
            if ($run === null) {
                $gone[] = Scalar::int($id);
            } else {
                $runs[] = $run;
            }
        }
        $this->areTaken($gone);

        return $runs;
    }

    private function run(Target $check, int $place, int $id, int $atMs, string $packed): ?ReportedRun
    {
        $result = Result::read((string) @gzinflate($packed));
        if ($result === null) {
            return null;
        }
        $steps = array_map(fn(array $step): CheckStep => $this->denormalizer->denormalize($step, CheckStep::class), $result->steps);

        return new ReportedRun($check, $place, $id, $atMs / 1000, $result->seconds, $result->judgement(), $steps, $result->answer);
    }

    /** @param list<int> $arrivals */
    public function areTaken(array $arrivals): void
    {
        if ($arrivals !== []) {
            $this->database->connection->executeStatement('DELETE FROM arrival WHERE id IN (?)', [$arrivals], [ArrayParameterType::INTEGER]);
        }
    }

    public function waiting(int $place): int
    {
        return Scalar::int($this->database->connection->fetchOne('SELECT COUNT(*) FROM arrival WHERE place = ?', [$place], [ParameterType::INTEGER]));
    }
}
