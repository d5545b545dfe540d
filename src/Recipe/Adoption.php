<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Olivine\App\Collect\Answer\FoundFamily;
use Olivine\App\Collect\Answer\FoundNumber;
use Olivine\App\Collect\Answer\TargetTest;
use Olivine\App\Collect\Check\CheckForm;
use Olivine\App\Collect\Check\CheckTrials;
use Olivine\App\Collect\Definition\CheckFields;
use Olivine\App\Collect\Definition\TargetFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\TargetForm;
use Olivine\App\Collect\TargetTester;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Definitions;
use Olivine\App\Platform\Problem;
use Olivine\App\Recipe\Answer\RecipeTrial;
use Olivine\App\Recipe\Definition\AdoptFields;

/** Makes a target or a check of a recipe, by the same forms that people fill in by hand. */
final readonly class Adoption
{
    public function __construct(
        private Definitions $definitions,
        private CheckForm $checks,
        private TargetForm $targets,
        private CheckTrials $trials,
        private TargetTester $tester,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem naming what cannot be so */
    public function tried(Recipe $recipe, AdoptFields $fields): RecipeTrial
    {
        return self::asInputs($recipe, fn(): RecipeTrial => $this->try($recipe, $fields));
    }

    /** @throws Problem naming what cannot be so */
    public function made(Recipe $recipe, AdoptFields $fields): Target
    {
        return self::asInputs($recipe, fn(): Target => $this->make($recipe, $fields));
    }

    /** @throws Problem */
    private function try(Recipe $recipe, AdoptFields $fields): RecipeTrial
    {
        $target = new Target('trial', '', $this->clock->now());
        $inputs = FilledIn::inputs($recipe, $fields->inputs);
        if ($recipe->check !== null) {
            $this->checks->fillAsks($target, $this->checkFields($recipe, $fields, $inputs));
            $trial = $this->trials->of($target);
            $brought = array_map(static fn(FoundNumber $one): string => $one->metric, $trial->readings);

            return new RecipeTrial($recipe, check: $trial, target: null, brought: $brought, proposed: self::name($recipe, $target->url, null));
        }
        $this->targets->fillRequest($target, $this->targetFields($recipe, $fields, $inputs));
        $test = $this->tester->test($target);
        $brought = array_map(static fn(FoundFamily $one): string => $one->name, $test->found ?? []);

        return new RecipeTrial($recipe, check: null, target: $test, brought: $brought, proposed: self::name($recipe, $target->url, $test));
    }

    /** @throws Problem */
    private function make(Recipe $recipe, AdoptFields $fields): Target
    {
        $target = new Target('', '', $this->clock->now());
        $inputs = FilledIn::inputs($recipe, $fields->inputs);
        if ($recipe->check !== null) {
            $this->checks->fill($target, $this->checkFields($recipe, $fields, $inputs));
        } else {
            $this->targets->fill($target, $this->targetFields($recipe, $fields, $inputs));
        }
        $target->recipe = $recipe->key;

        return $target;
    }

    /**
     * @param array<string, string> $inputs
     *
     * @throws Problem
     */
    private function checkFields(Recipe $recipe, AdoptFields $fields, array $inputs): CheckFields
    {
        $secrets = [];
        foreach ($recipe->inputs as $name => $input) {
            if ($input->isSecret && $inputs[$name] !== '') {
                $secrets[] = ['name' => $name, 'value' => $inputs[$name]];
            }
        }

        return $this->definitions->read(CheckFields::class, [
            'asks' => FilledIn::of($recipe, $recipe->check, $inputs),
            'name' => $fields->name,
            'intervalSeconds' => $recipe->seconds,
            'labels' => $fields->labels,
            'places' => $fields->places,
            'secrets' => $secrets,
        ]);
    }

    /**
     * @param array<string, string> $inputs
     *
     * @throws Problem
     */
    private function targetFields(Recipe $recipe, AdoptFields $fields, array $inputs): TargetFields
    {
        if ($recipe->target === null) {
            throw new Problem(409, "{$recipe->name} asks nothing; it brings rules alone");
        }
        $written = FilledIn::of($recipe, $recipe->target, $inputs);

        return $this->definitions->read(TargetFields::class, [
            ...(is_array($written) ? $written : []),
            'name' => $fields->name === '' ? null : $fields->name,
            'intervalSeconds' => $recipe->seconds,
            'labels' => $fields->labels,
        ]);
    }

    /** As the thing calls itself, or by where it is: `web-1`, `MariaDB at db-1`. */
    private static function name(Recipe $recipe, string $url, ?TargetTest $test): string
    {
        foreach ($test->found ?? [] as $family) {
            $own = $family->readings[0]->labels->labels['host_name'] ?? '';
            if ($own !== '') {
                return mb_substr($own, 0, Target::NAME_LENGTH);
            }
        }
        $host = trim((string) parse_url($url, PHP_URL_HOST), '[]');

        return mb_substr($test === null ? "{$recipe->name} at {$host}" : $host, 0, Target::NAME_LENGTH);
    }

    /**
     * A fault of what was filled in is told as that of the input it came from.
     *
     * @template T
     *
     * @param \Closure(): T $work
     *
     * @return T
     *
     * @throws Problem
     */
    private static function asInputs(Recipe $recipe, \Closure $work): mixed
    {
        try {
            return $work();
        } catch (Problem $fault) {
            $field = is_string($fault->more['field'] ?? null) ? $fault->more['field'] : '';
            $input = FilledIn::inputAt($recipe->check ?? $recipe->target ?? [], (string) preg_replace('~^.*\.~', '', $field));
            throw $input === null ? $fault : Problem::field("inputs.{$input}", $fault->getMessage());
        }
    }
}
