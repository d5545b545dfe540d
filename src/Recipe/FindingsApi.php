<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Recipe\Definition\AsideFields;
use Olivine\App\Recipe\Entity\Finding;
use Olivine\App\Recipe\Repository\FindingRepository;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Known faults that were found: listed, looked for anew, left aside with a reason and taken up again. */
#[IsGranted('ROLE_VIEWER')]
final readonly class FindingsApi
{
    private const SECONDS = 20.0;

    public function __construct(
        private EntityManagerInterface $entities,
        private FindingRepository $findings,
        private Findings $look,
        private Shelf $shelf,
        private Checker $checker,
        private HeavyWork $heavy,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/findings', methods: ['GET'])]
    public function findings(): JsonResponse
    {
        return new JsonResponse($this->shown());
    }

    /** @throws Problem where too much is under way already */
    #[Route('/api/findings/look', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function look(): JsonResponse
    {
        $this->heavy->within(self::SECONDS, fn() => $this->look->look($this->clock->now()));

        return new JsonResponse($this->shown());
    }

    #[Route('/api/findings/{id<\d{1,9}>}/aside', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function aside(int $id, #[Body] AsideFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $finding = $this->findings->one($id);
        $finding->aside($self->name, $fields->reason, $this->clock->now());
        $this->entities->flush();
        $this->audit->record('left aside', $this->subject($finding), null, ['reason' => $fields->reason, 'where' => $finding->labels]);

        return new JsonResponse(null, 204);
    }

    #[Route('/api/findings/{id<\d{1,9}>}/back', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function back(int $id): JsonResponse
    {
        $finding = $this->findings->one($id);
        $before = ['reason' => $finding->reason];
        $finding->back();
        $this->entities->flush();
        $this->audit->record('taken up again', $this->subject($finding), $before, ['where' => $finding->labels]);

        return new JsonResponse(null, 204);
    }

    private function shown(): Answer\Findings
    {
        $shown = [];
        foreach ($this->findings->there() as $finding) {
            [$recipe, $about] = $this->about($finding);
            // Of a recipe that is gone there is nothing to say, and it is gone with the next look.
            if ($recipe !== null && $about !== null) {
                $shown[] = Answer\Finding::of($finding, $recipe, $about, $this->unit($about->formula));
            }
        }

        ['at' => $lookedAt, 'unread' => $unread] = $this->look->lastLook();

        return new Answer\Findings($shown, $unread, $lookedAt);
    }

    /** @return array{Recipe|null, RecipeFinding|null} */
    private function about(Finding $finding): array
    {
        $recipe = $this->shelf->all()[$finding->recipe] ?? null;

        return [$recipe, array_find($recipe->findings ?? [], static fn(RecipeFinding $one): bool => $one->key === $finding->key)];
    }

    private function subject(Finding $finding): string
    {
        return 'finding ' . ($this->about($finding)[1]->name ?? $finding->key);
    }

    private function unit(string $formula): string
    {
        try {
            return $this->checker->unitOf(Parser::parse($formula));
        } catch (FormulaError) {
            return '';
        }
    }
}
