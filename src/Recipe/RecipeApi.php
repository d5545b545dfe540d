<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Check\CheckWishes;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Files\FileFault;
use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Recipe\Answer\Adopted;
use Olivine\App\Recipe\Answer\Recipes;
use Olivine\App\Recipe\Definition\AdoptFields;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** The shelf of recipes: looked through, tried on a thing, adopted; and the rules they bring. */
#[IsGranted('ROLE_VIEWER')]
final readonly class RecipeApi
{
    private const KEY = '[^/]{1,60}';

    public function __construct(
        private EntityManagerInterface $entities,
        private TargetRepository $targets,
        private Shelf $shelf,
        private Adoption $adoption,
        private Starters $starters,
        private CheckWishes $wishes,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/recipes', methods: ['GET'])]
    public function recipes(): JsonResponse
    {
        $used = $this->used();

        return new JsonResponse(new Recipes(
            array_map(
                static fn(Recipe $recipe): Answer\Recipe => Answer\Recipe::of($recipe, $used[$recipe->key] ?? []),
                array_values($this->shelf->all()),
            ),
            array_map(static fn(FileFault $fault): string => $fault->words(), $this->shelf->faults()),
        ));
    }

    #[Route('/api/recipes/{name<' . self::KEY . '>}', methods: ['GET'])]
    public function recipe(string $name): JsonResponse
    {
        $recipe = $this->shelf->there($name);

        return new JsonResponse(Answer\Recipe::of($recipe, $this->used()[$name] ?? []));
    }

    /**
     * Its rules, those of which anything is watched, their limits from the history of one target, or of all.
     *
     * @throws Problem where too much is under way already
     */
    #[Route('/api/recipes/{name<' . self::KEY . '>}/rules', methods: ['GET'])]
    public function rules(string $name): JsonResponse
    {
        return new JsonResponse($this->starters->of($this->shelf->there($name), null));
    }

    /** @throws Problem where too much is under way already */
    #[Route('/api/recipes/{name<' . self::KEY . '>}/rules/{id<\d{1,9}>}', methods: ['GET'])]
    public function rulesOf(string $name, int $id): JsonResponse
    {
        return new JsonResponse($this->starters->of($this->shelf->there($name), $this->targets->there($id)->name));
    }

    /** @throws Problem where too much is under way already */
    #[Route('/api/rules/starters', methods: ['GET'])]
    public function starters(): JsonResponse
    {
        return new JsonResponse($this->starters->all());
    }

    #[Route('/api/recipes/{name<' . self::KEY . '>}/try', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function try(string $name, #[Body] AdoptFields $fields): JsonResponse
    {
        return new JsonResponse($this->adoption->tried($this->shelf->there($name), $fields));
    }

    #[Route('/api/recipes/{name<' . self::KEY . '>}/adopt', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function adopt(string $name, #[Body] AdoptFields $fields): JsonResponse
    {
        $recipe = $this->shelf->there($name);
        if ($fields->name === '') {
            throw Problem::field('name', 'Give it a name, as people call it');
        }
        $target = $this->adoption->made($recipe, $fields);
        $this->entities->persist($target);
        $this->entities->flush();
        if ($target->kind->isCheck()) {
            $this->wishes->wish($target->id(), $target->places, $this->clock->now()->ms);
        }
        $what = $target->kind->isCheck() ? 'check' : 'target';
        $adopted = Adopted::of($target);
        $kept = ['name' => $adopted->name, 'kind' => $adopted->kind, 'recipe' => $recipe->name, 'url' => $target->url];
        $this->audit->record('added', "{$what} {$target->name}", null, $kept);

        return new JsonResponse($adopted, 201);
    }

    /** @return array<string, list<Adopted>> */
    private function used(): array
    {
        $used = [];
        foreach ($this->targets->byRecipe() as $target) {
            $used[(string) $target->recipe][] = Adopted::of($target);
        }

        return $used;
    }
}
