<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Answer\CertificateRow;
use Olivine\App\Collect\Answer\Certificates;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Platform\Clock;
use Olivine\Core\Check\Tls\Certificate;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** All certificates that anything shows now: those that checks are shown by servers, and those that lie in files of machines. */
final readonly class CertificateList
{
    private const UNREAD = 'certificate_file_unread';
    private const MOST = 1_000;

    public function __construct(private Evaluator $evaluator, private TargetRepository $targets, private Clock $clock = new Clock())
    {
    }

    /** @throws TooMuchToRead */
    public function all(): Certificates
    {
        $known = [];
        foreach ($this->targets->findBy(['removedAt' => null]) as $target) {
            $known[$target->name] = $target;
        }
        $rows = [];
        foreach ($this->now(Certificate::END) as [$labels, $value]) {
            $target = $known[$labels->get('target')] ?? null;
            if ($target === null) {
                continue;
            }
            // Seen from several places it is the same one.
            $key = implode("\n", [$target->id(), ...array_map($labels->get(...), ['file', 'subject', 'issuer', 'for'])]);
            $row = self::row($target, $labels, Instant::ofMs((int) ($value * 1000)));
            $rows[$key] = isset($rows[$key]) && $rows[$key]->endsAt->isBefore($row->endsAt) ? $rows[$key] : $row;
        }
        usort($rows, static fn(CertificateRow $a, CertificateRow $b): int => [$a->endsAt->ms, $a->name] <=> [$b->endsAt->ms, $b->name]);
        $unread = array_filter($this->now(self::UNREAD), static fn(array $one): bool => $one[1] > 0);

        return new Certificates(
            array_slice($rows, 0, self::MOST),
            max(0, count($rows) - self::MOST),
            array_values(array_map(static fn(array $one): string => "{$one[0]->get('file')} on {$one[0]->get('target')}", $unread)),
        );
    }

    private static function row(Target $target, LabelSet $labels, Instant $endsAt): CertificateRow
    {
        return new CertificateRow(
            $target->id(),
            $target->name,
            $target->kind->value,
            $target->labels['service'] ?? '',
            $labels->get('file'),
            $labels->get('subject'),
            $labels->get('issuer'),
            $labels->get('for'),
            $endsAt,
        );
    }

    /**
     * @return list<array{LabelSet, float}> the series of a metric with what they say now
     *
     * @throws TooMuchToRead
     */
    private function now(string $metric): array
    {
        $at = $this->clock->now()->ms;
        try {
            $lines = $this->evaluator->range(Parser::parse($metric), $at, $at, 1)->lines;
        } catch (FormulaError) {
            // Nothing has brought such a metric yet.
            return [];
        }
        $values = array_map(static fn(Line $line): array => [$line->labels, $line->values[0] ?? null], $lines);

        return array_values(array_filter($values, static fn(array $one): bool => $one[1] !== null));
    }
}
