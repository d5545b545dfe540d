<?php

declare(strict_types=1);

namespace Olivine\Standin\Outside;

/** What a stand-in keeps, one file a thing, so that it outlives the program; a thing whose id is here already is counted, not kept twice. */
final readonly class Things
{
    public function __construct(private string $folder)
    {
        if (!is_dir($folder)) {
            mkdir($folder, 0o755, true);
        }
    }

    /**
     * @param array<string, mixed> $thing
     *
     * @return array<string, mixed> as it is kept: that of before where it was here
     */
    public function arrives(string $id, array $thing): array
    {
        $old = $this->one($id);
        $kept = ($old ?? ['id' => $id, 'at' => (int) (microtime(true) * 1000)] + $thing);
        $arrivals = is_int($kept['arrivals'] ?? null) ? $kept['arrivals'] : 0;

        return $this->keep($id, ['arrivals' => $arrivals + 1] + $kept);
    }

    /**
     * @param array<string, mixed> $thing
     *
     * @return array<string, mixed>
     */
    public function keep(string $id, array $thing): array
    {
        $file = $this->file($id);
        file_put_contents("{$file}.new", json_encode($thing, JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE));
        rename("{$file}.new", $file);

        return $thing;
    }

    /** @return array<string, mixed>|null */
    public function one(string $id): ?array
    {
        return is_file($this->file($id)) ? self::read($this->file($id)) : null;
    }

    /** @return list<array<string, mixed>> newest first */
    public function all(): array
    {
        $all = [];
        foreach (glob($this->folder . '/*.json') ?: [] as $file) {
            $thing = self::read($file);
            if ($thing !== null) {
                $all[] = $thing;
            }
        }
        usort($all, static fn(array $a, array $b): int => ($b['at'] ?? 0) <=> ($a['at'] ?? 0));

        return $all;
    }

    private function file(string $id): string
    {
        return $this->folder . '/' . sha1($id) . '.json';
    }

    /** @return array<string, mixed>|null */
    private static function read(string $file): ?array
    {
        $thing = json_decode((string) file_get_contents($file), true);

        /** @var array<string, mixed>|null */
        return is_array($thing) ? $thing : null;
    }
}
