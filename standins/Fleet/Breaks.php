<?php

declare(strict_types=1);

namespace Olivine\Standin\Fleet;

/** What was broken on purpose, and since when; kept in a file so that it outlives the program. */
final class Breaks
{
    public const KINDS = [
        'queue' => 'A queue backs up',
        'down' => 'The host goes away',
        'disk' => 'A disk fills fast',
        'leak' => 'The container leaks',
        'garbage' => 'It answers garbage',
        'slow' => 'It answers slowly',
        'error' => 'It answers 500',
        'login' => 'Its pages refuse each login',
        'words' => 'Its pages say that all is sold out',
    ];
    private const QUEUE_GROWS = 60.0;
    private const QUEUE_DRAINS = 400.0;

    /** @var array<string, array{kind: string, target: string, from: int, to: int|null}> */
    private array $breaks = [];

    public function __construct(private readonly ?string $file)
    {
        $kept = $file !== null && is_file($file) ? json_decode((string) file_get_contents($file), true) : [];
        /** @var array<string, array{kind: string, target: string, from: int, to: int|null}> $known */
        $known = is_array($kept) ? $kept : [];
        $this->breaks = $known;
    }

    public static function none(): self
    {
        return new self(null);
    }

    public function start(string $kind, string $target, int $second): void
    {
        $this->breaks["{$kind} {$target}"] = ['kind' => $kind, 'target' => $target, 'from' => $second, 'to' => null];
        $this->save();
    }

    public function heal(string $kind, string $target, int $second): void
    {
        if (isset($this->breaks["{$kind} {$target}"])) {
            $this->breaks["{$kind} {$target}"]['to'] ??= $second;
            $this->save();
        }
    }

    public function isOn(string $kind, string $target): bool
    {
        return isset($this->breaks["{$kind} {$target}"]) && $this->breaks["{$kind} {$target}"]['to'] === null;
    }

    /** Messages that pile up: 60 more a second, at most 6,000; once healed they drain at 400 a second. */
    public function backlog(string $target, int $second): float
    {
        $break = $this->breaks["queue {$target}"] ?? null;
        if ($break === null || $second <= $break['from']) {
            return 0.0;
        }
        $peak = min(6_000.0, (min($second, $break['to'] ?? $second) - $break['from']) * self::QUEUE_GROWS);

        return $break['to'] === null ? $peak : max(0.0, $peak - max(0, $second - $break['to']) * self::QUEUE_DRAINS);
    }

    /** A share that grows while the break lasts and is gone once it is healed. */
    public function share(string $kind, string $target, int $second, float $perSecond): float
    {
        $break = $this->breaks["{$kind} {$target}"] ?? null;

        return $break === null || $break['to'] !== null || $second <= $break['from']
            ? 0.0
            : min(1.0, ($second - $break['from']) * $perSecond);
    }

    /** @return list<array{kind: string, target: string, from: int, to: int|null}> */
    public function all(): array
    {
        return array_values($this->breaks);
    }

    private function save(): void
    {
        if ($this->file !== null) {
            file_put_contents("{$this->file}.new", json_encode($this->breaks));
            rename("{$this->file}.new", $this->file);
        }
    }
}
