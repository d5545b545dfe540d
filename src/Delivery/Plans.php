<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Definition\CopyDefinition;
use Olivine\App\Delivery\Definition\LadderDefinition;
use Olivine\App\Delivery\Definition\NamedDefinition;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\App\Delivery\Definition\TeamDefinition;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\Copy;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\Path;

/** Definitions of the plan: read as they are kept, held against what they must be, and as they work. */
final readonly class Plans
{
    public function __construct(private Definitions $definitions, private Settings $settings, private KnownReceivers $receivers)
    {
    }

    /**
     * @param array<array-key, mixed> $kept
     *
     * @throws Problem naming the field
     */
    public function read(array $kept): PlanDefinition
    {
        return $this->definitions->read(PlanDefinition::class, $kept);
    }

    /**
     * @param array<array-key, mixed> $kept
     *
     * @return PlanDefinition|null null where it cannot be read any more
     */
    public function readable(array $kept): ?PlanDefinition
    {
        try {
            return $this->read($kept);
        } catch (Problem) {
            return null;
        }
    }

    /** @return array<string, mixed> as it is kept */
    public static function kept(PlanDefinition|NamedDefinition $definition): array
    {
        /** @var array<string, mixed> */
        return json_decode(json_encode($definition, JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION), true, 16, JSON_THROW_ON_ERROR);
    }

    /**
     * Before it is in service: all that it names is there.
     *
     * @throws Problem naming the field, and in words which part is meant
     */
    public function check(PlanDefinition $plan): void
    {
        foreach (['path' => $plan->paths, 'ladder' => $plan->ladders, 'copy' => $plan->copies, 'team' => $plan->teams] as $kind => $parts) {
            self::eachOnce($kind, $parts);
        }
        $last = $plan->paths[count($plan->paths) - 1] ?? null;
        if ($last?->isLast() !== true) {
            throw Problem::field('paths', 'the last path must be everything else, so that nothing falls through');
        }
        foreach (PlanPart::cases() as $kind) {
            foreach (array_keys($kind->of($plan)) as $name) {
                $this->checkPart($plan, $kind, (string) $name);
            }
        }
    }

    /**
     * One part of it: what another one lacks is no matter of this one.
     *
     * @throws Problem naming the field, and in words which part is meant
     */
    public function checkPart(PlanDefinition $plan, PlanPart $kind, string $name): void
    {
        $part = $kind->of($plan)[$name];
        $teams = array_map(static fn(TeamDefinition $team): string => $team->name, $plan->teams);
        self::of("{$kind->value} {$name}", fn() => match (true) {
            $part instanceof PathDefinition => $part->core(self::ladderOf($plan, $part), $this->settings->zone(), $this->settings->holidays()),
            $part instanceof LadderDefinition => $this->checkLadder($part, $teams),
            $part instanceof CopyDefinition => $this->checkCopy($part, $teams),
            $part instanceof TeamDefinition => $this->receivers->checkPeople($part->people),
        });
    }

    /**
     * @param list<string> $teams
     *
     * @throws Problem
     */
    private function checkLadder(LadderDefinition $ladder, array $teams): void
    {
        $ladder->core();
        foreach ($ladder->rungs as $rung) {
            $this->receivers->check($rung->who, $rung->by, $teams);
        }
    }

    /**
     * @param list<string> $teams
     *
     * @throws Problem
     */
    private function checkCopy(CopyDefinition $copy, array $teams): void
    {
        $copy->core($this->settings->zone(), $this->settings->holidays());
        $this->receivers->check($copy->who, $copy->by, $teams);
        if ($copy->who === [] && in_array(MailChannel::NAME, $copy->by, true)) {
            throw Problem::field('by', 'by: mail goes to somebody; say who');
        }
    }

    /** @throws Problem */
    private static function ladderOf(PlanDefinition $plan, PathDefinition $path): Ladder
    {
        $ladder = array_find($plan->ladders, static fn(LadderDefinition $one): bool => $one->name === $path->ladder);

        return $ladder?->core() ?? throw Problem::field('ladder', "there is no ladder {$path->ladder}");
    }

    /**
     * @param list<string> $holidays of the site
     *
     * @return non-empty-list<Path> as they work
     *
     * @throws Problem naming the field, and in words which path is meant
     */
    public static function paths(PlanDefinition $plan, \DateTimeZone $zone, array $holidays): array
    {
        $paths = [];
        foreach ($plan->paths as $path) {
            $paths[] = self::of("path {$path->name}", static fn(): Path => $path->core(self::ladderOf($plan, $path), $zone, $holidays));
        }

        return $paths === [] ? throw Problem::field('paths', 'paths are missing') : $paths;
    }

    /**
     * @param list<string> $holidays of the site
     *
     * @return list<Copy> as they work
     *
     * @throws Problem naming the field, and in words which copy is meant
     */
    public static function copies(PlanDefinition $plan, \DateTimeZone $zone, array $holidays): array
    {
        return array_map(
            static fn(CopyDefinition $copy): Copy => self::of("copy {$copy->name}", static fn(): Copy => $copy->core($zone, $holidays)),
            $plan->copies,
        );
    }

    /**
     * @param list<PathDefinition>|list<LadderDefinition>|list<CopyDefinition>|list<TeamDefinition> $parts
     *
     * @throws Problem
     */
    private static function eachOnce(string $kind, array $parts): void
    {
        $names = array_map(static fn(NamedDefinition $part): string => $part->name(), $parts);
        $twice = array_diff_assoc($names, array_unique($names));
        if ($twice !== []) {
            throw Problem::field('name', sprintf('There is a %s named %s already', $kind, reset($twice)));
        }
    }

    /**
     * @template T
     *
     * @param \Closure(): T $do
     *
     * @return T
     *
     * @throws Problem that says which part is meant
     */
    private static function of(string $part, \Closure $do): mixed
    {
        try {
            return $do();
        } catch (Problem $problem) {
            throw new Problem($problem->status, "{$part}: {$problem->getMessage()}", $problem->more);
        }
    }
}
