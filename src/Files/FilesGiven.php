<?php

declare(strict_types=1);

namespace Olivine\App\Files;

use Olivine\App\Platform\CalledFrom;

/** The files that somebody at a terminal names: files, or folders with all that is YAML in them. */
final readonly class FilesGiven
{
    private const MOST = 5_000;

    /**
     * @param list<string> $names
     * @param list<string> $kinds that may stand in them
     *
     * @return list<YamlFile> by their names
     *
     * @throws NoSuchFile where one cannot be read
     */
    public static function read(array $names, array $kinds): array
    {
        $files = [];
        foreach ($names as $name) {
            foreach (self::within($name) as $path => $shown) {
                $text = @file_get_contents($path);
                $files[$shown] = YamlFile::of($shown, $text === false ? throw new NoSuchFile("{$shown} cannot be read") : $text, $kinds);
            }
        }
        ksort($files);

        return array_values($files);
    }

    /**
     * @return array<string, string> path → as it is told
     *
     * @throws NoSuchFile
     */
    private static function within(string $name): array
    {
        $path = CalledFrom::path($name);
        if (!is_dir($path)) {
            return [$path => $name];
        }
        $found = [];
        $all = new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator($path, \FilesystemIterator::SKIP_DOTS));
        foreach ($all as $file) {
            if ($file instanceof \SplFileInfo && in_array($file->getExtension(), ['yaml', 'yml'], true)) {
                $found[$file->getPathname()] = rtrim($name, '/') . substr($file->getPathname(), strlen(rtrim($path, '/')));
            }
        }

        return count($found) <= self::MOST ? $found : throw new NoSuchFile(sprintf('%s holds more than %d files', $name, self::MOST));
    }
}
