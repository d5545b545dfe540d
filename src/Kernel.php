<?php

declare(strict_types=1);

namespace Olivine\App;

use Olivine\App\Platform\Scalar;
use Symfony\Bundle\FrameworkBundle\Kernel\MicroKernelTrait;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Finder\Finder;
use Symfony\Component\HttpKernel\CacheWarmer\CacheWarmerAggregate;
use Symfony\Component\HttpKernel\Kernel as BaseKernel;

/**
 * What is compiled of the application belongs to the sources it was compiled from, so that neither a command nor a part ever
 * runs on what another version left.
 */
final class Kernel extends BaseKernel
{
    use MicroKernelTrait;

    private const VERSION_LETTERS = 12;

    private ?string $compiled = null;

    public function getCacheDir(): string
    {
        return $this->compiled ??= self::compiledAt(
            $this->getProjectDir(),
            Scalar::text($_SERVER['OLIVINE_STATE_DIR']),
            $this->environment,
        );
    }

    /** Where the sources as they are now are compiled to. */
    public static function compiledAt(string $root, string $stateDir, string $environment = 'prod'): string
    {
        $sources = hash_init('sha256');
        foreach (
            (new Finder())
                ->files()
                ->in(["{$root}/config", "{$root}/src", "{$root}/core"])
                ->append(["{$root}/composer.json", "{$root}/vendor/composer/installed.php"])
                ->sortByName() as $file
        ) {
            hash_update($sources, "{$file->getPathname()} {$file->getMTime()} {$file->getSize()}\n");
        }

        return "{$stateDir}/cache/{$environment}-" . substr(hash_final($sources), 0, self::VERSION_LETTERS);
    }

    public function getLogDir(): string
    {
        return Scalar::text($_SERVER['OLIVINE_STATE_DIR']) . '/log';
    }

    /** Only where no part runs: one that does would compile its version anew. */
    public function forgetOtherVersions(): void
    {
        $own = $this->getCacheDir();
        $compiled = glob(Scalar::text($_SERVER['OLIVINE_STATE_DIR']) . "/cache/{$this->environment}*", GLOB_ONLYDIR);
        (new Filesystem())->remove(array_diff($compiled === false ? [] : $compiled, [$own]));
    }

    /** All of it at once, as who may write it: the web answers as somebody who may not. */
    protected function initializeContainer(): void
    {
        $isThere = is_file("{$this->getCacheDir()}/url_matching_routes.php");
        parent::initializeContainer();
        $warmer = $isThere ? null : $this->container?->get('cache_warmer');
        if ($warmer instanceof CacheWarmerAggregate) {
            $warmer->enableOptionalWarmers();
            $warmer->warmUp($this->getCacheDir(), $this->getBuildDir());
        }
    }
}
