<?php

declare(strict_types=1);

namespace Olivine\App\Demo;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\StationToken;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Collect\Station\StationKeys;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Lets the simulated stations of the demo join, which ask all its checks too. */
final readonly class DemoStations
{
    /** Where they stand: the folder of each, and its place. */
    public const PLACES = ['greyhaven' => 'Greyhaven', 'skarn' => 'Skarn'];
    private const HOURS = 24;

    public function __construct(private EntityManagerInterface $entities, private TargetRepository $targets)
    {
    }

    public function letJoin(string $folder, Instant $now): void
    {
        $told = StationKeys::TOKEN_PREFIX . StationKeys::made();
        $checks = array_map(static fn(Target $check): int => $check->id(), $this->targets->checks());
        $ends = $now->plus(Duration::ofHours(self::HOURS));
        $token = new StationToken('stations of the demo', StationKeys::digest($told), '*', $checks, count(self::PLACES), 0, $now, $ends);
        $this->entities->persist($token);
        $this->entities->flush();
        file_put_contents("{$folder}/token", $told);
        chmod("{$folder}/token", 0o644);
        foreach (array_keys(self::PLACES) as $name) {
            // The key of an instance that is no more opens nothing.
            @unlink("{$folder}/{$name}/key");
        }
    }
}
