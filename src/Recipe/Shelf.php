<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Olivine\App\Files\FileFault;
use Olivine\App\Files\Kinds;
use Olivine\App\Files\YamlFile;
use Olivine\App\Platform\Problem;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** All recipes there are: ours, and those that somebody laid into the instance's own folder, which go before ours of the same key. */
final class Shelf
{
    private const FOLDER = 'recipes';
    /** @var array{string, array<string, Recipe>, list<FileFault>}|null when the files were as they were, and what they hold */
    private ?array $read = null;

    public function __construct(
        private readonly RecipeReader $reader,
        #[Autowire('%kernel.project_dir%/recipes')]
        private readonly string $ours,
        #[Autowire('%env(OLIVINE_STATE_DIR)%/recipes')]
        private readonly string $own,
    ) {
    }

    /** @return array<string, Recipe> by key, in the order of their names */
    public function all(): array
    {
        return $this->read()[1];
    }

    /** @return list<FileFault> what could not be read */
    public function faults(): array
    {
        return $this->read()[2];
    }

    /** @throws Problem 404 */
    public function there(string $key): Recipe
    {
        return $this->all()[$key] ?? throw new Problem(404, "There is no recipe {$key}");
    }

    /** @return array{string, array<string, Recipe>, list<FileFault>} */
    private function read(): array
    {
        $files = array_merge(self::files($this->ours), self::files($this->own));
        $as = implode(' ', array_map(static fn(string $file): string => "{$file} " . @filemtime($file) . ' ' . @filesize($file), $files));
        if ($this->read !== null && $this->read[0] === $as) {
            return $this->read;
        }
        [$recipes, $faults] = [[], []];
        foreach ($files as $path) {
            $name = self::FOLDER . '/' . basename($path);
            $text = @file_get_contents($path);
            if ($text === false) {
                $faults[] = new FileFault($name, 1, 1, 'the file cannot be read');
                continue;
            }
            $file = YamlFile::of($name, $text, [Kinds::RECIPES]);
            foreach ($this->reader->read($file) as $recipe) {
                $recipes[$recipe->key] = $recipe;
            }
            array_push($faults, ...$file->faults());
        }
        uasort($recipes, static fn(Recipe $a, Recipe $b): int => strcasecmp($a->name, $b->name));

        return $this->read = [$as, $recipes, $faults];
    }

    /** @return list<string> those at the top of the folder, by name */
    private static function files(string $folder): array
    {
        clearstatcache();

        return glob("{$folder}/*.{yaml,yml}", GLOB_BRACE) ?: [];
    }
}
