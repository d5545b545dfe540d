<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

/** A plan as people and as pipelines read it. */
final readonly class PlanWords
{
    private const JSON = JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRETTY_PRINT;
    private const LONGEST = 300;

    /**
     * @param list<PlannedRule> $planned
     *
     * @return list<PlannedRule> those that would be touched
     */
    public static function differing(array $planned): array
    {
        return array_values(array_filter($planned, static fn(PlannedRule $one): bool => $one->what !== Planned::Same));
    }

    /**
     * @param list<PlannedRule>     $planned
     * @param array<string, string> $meanings key → what its change means
     */
    public static function text(array $planned, array $meanings): string
    {
        $lines = [];
        foreach (self::differing($planned) as $one) {
            $where = $one->file === null ? '' : "  {$one->file->file}:{$one->file->line}";
            $renamed = $one->rule !== null && $one->file !== null && $one->rule->fileKey !== null && $one->rule->fileKey !== $one->key
                ? "  (was {$one->rule->fileKey})"
                : '';
            $lines[] = rtrim(sprintf('%-8s %-28s %s%s', $one->what->value, $one->key, $one->name, $where)) . $renamed;
            foreach ($one->changes as $field => $change) {
                $applied = $change->applied === null || $one->what !== Planned::ByHand ? '' : '   (applied: ' . self::shown($change->applied) . ')';
                $lines[] = "           {$field}: " . self::shown($change->now) . ' → ' . self::shown($change->file) . $applied;
            }
            foreach ($one->users as $user) {
                $lines[] = "           {$user} looks at its alerts";
            }
            if (isset($meanings[$one->key])) {
                $lines[] = "           {$meanings[$one->key]}";
            }
        }
        $count = count(self::differing($planned));
        $lines[] = match ($count) {
            0 => sprintf('Nothing to do: %d rules say what their files say.', count($planned)),
            1 => 'One rule to do.',
            default => "{$count} rules to do.",
        };

        return implode("\n", $lines) . "\n";
    }

    /**
     * @param list<PlannedRule>     $planned
     * @param array<string, string> $meanings key → what its change means
     */
    public static function json(array $planned, array $meanings): string
    {
        $rows = [];
        foreach (self::differing($planned) as $one) {
            $rows[] = [
                'what' => $one->what->value,
                'key' => $one->key,
                'name' => $one->name,
                'file' => $one->file?->file,
                'line' => $one->file?->line,
                'was' => $one->rule?->fileKey,
                'changes' => (object) $one->changes,
                'users' => $one->users,
                'means' => $meanings[$one->key] ?? null,
            ];
        }

        return json_encode(['rules' => count($planned), 'differing' => $rows], self::JSON) . "\n";
    }

    private static function shown(string $value): string
    {
        $line = str_replace("\n", ' ⏎ ', $value);

        return match (true) {
            $value === '' => '(nothing)',
            mb_strlen($line) > self::LONGEST => mb_substr($line, 0, self::LONGEST) . '…',
            default => $line,
        };
    }
}
