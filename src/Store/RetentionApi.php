<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\People\Audit;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** How long readings and roll-ups are kept, what that costs, and what another choice would drop. */
#[IsGranted('ROLE_VIEWER')]
final readonly class RetentionApi
{
    private const MOST_DAYS = 3_660;

    public function __construct(private Connection $connection, private Retention $retention, private Partitions $partitions, private Audit $audit)
    {
    }

    #[Route('/api/retention', methods: ['GET'])]
    public function kept(Request $request): JsonResponse
    {
        $days = $this->retention->days();
        $tiers = [];
        foreach (RetentionTier::cases() as $tier) {
            $asked = $request->query->getInt($tier->value, $days[$tier->value]);
            $tiers[] = ['name' => $tier->value, 'days' => $days[$tier->value]] + $this->cost($tier, max(1, $asked));
        }
        $hot = $this->connection->fetchAssociative("SELECT DATA_LENGTH + INDEX_LENGTH AS bytes FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = 'scrape_row'");

        return new JsonResponse(['tiers' => $tiers, 'freshBytes' => (int) ($hot['bytes'] ?? 0)]);
    }

    #[Route('/api/retention', methods: ['PUT'])]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function keep(Request $request): JsonResponse
    {
        $input = Input::of($request);
        $before = $this->retention->days();
        $days = [];
        foreach (RetentionTier::cases() as $tier) {
            $days[$tier->value] = $input->whole($tier->value, 1, self::MOST_DAYS, $before[$tier->value]);
        }
        if ($days['fiveMinutes'] < $days['readings'] || $days['hours'] < $days['fiveMinutes']) {
            throw Problem::field($days['fiveMinutes'] < $days['readings'] ? 'fiveMinutes' : 'hours', 'A coarser tier must be kept at least as long as a finer one');
        }
        $this->retention->keep($days);
        $this->audit->record('changed', 'retention', $before, $days);

        return $this->kept(new Request());
    }

    /** @return array{bytes: int, rows: int, coveredDays: int, bytesADay: int, droppedDays: int, droppedBytes: int} */
    private function cost(RetentionTier $tier, int $days): array
    {
        $cut = Clock::nowMs() - $days * Span::DAY_MS;
        $bytes = $rows = $droppedBytes = $droppedDays = 0;
        foreach ($tier->tables() as $i => $table) {
            foreach ($this->partitions->of($table) as $partition) {
                $bytes += $partition['bytes'];
                $rows += $i === 0 ? $partition['rows'] : 0;
                if ($partition['endMs'] !== null && $partition['endMs'] <= $cut) {
                    $droppedBytes += $partition['rows'] === 0 ? 0 : $partition['bytes'];
                    $droppedDays += $i === 0 && $partition['rows'] > 0 ? 1 : 0;
                }
            }
        }
        $covered = $this->connection->fetchNumeric("SELECT MIN(from_at), MAX(from_at) FROM {$tier->tables()[1]}");
        $coveredDays = $covered === false || $covered[0] === null ? 0 : max(1, (int) ceil(((int) $covered[1] - (int) $covered[0]) / Span::DAY_MS));

        return ['bytes' => $bytes, 'rows' => $rows, 'coveredDays' => $coveredDays, 'bytesADay' => $coveredDays === 0 ? 0 : intdiv($bytes, $coveredDays), 'droppedDays' => $droppedDays, 'droppedBytes' => $droppedBytes];
    }
}
