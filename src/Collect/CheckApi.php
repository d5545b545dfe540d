<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Check\CheckForm;
use Olivine\App\Collect\Check\CheckList;
use Olivine\App\Collect\Check\CheckTrials;
use Olivine\App\Collect\Check\CheckWishes;
use Olivine\App\Collect\Check\FoundPartners;
use Olivine\App\Collect\Definition\CheckFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\LabelChanges;
use Olivine\Core\Formula\TooMuchToRead;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Checks: listed, tried, added, changed, asked now; pausing and removing are those of any target. */
#[IsGranted('ROLE_VIEWER')]
final readonly class CheckApi
{
    public function __construct(
        private EntityManagerInterface $entities,
        private TargetRepository $targets,
        private CheckList $list,
        private CertificateList $certificates,
        private CheckForm $form,
        private CheckTrials $trials,
        private FoundPartners $partners,
        private CheckWishes $wishes,
        private LabelChanges $labelChanges,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/checks', methods: ['GET'])]
    public function checks(): JsonResponse
    {
        return new JsonResponse($this->list->all());
    }

    /** @throws TooMuchToRead */
    #[Route('/api/certificates', methods: ['GET'])]
    public function certificates(): JsonResponse
    {
        return new JsonResponse($this->certificates->all());
    }

    #[Route('/api/checks/{id<\d{1,9}>}', methods: ['GET'])]
    public function check(int $id): JsonResponse
    {
        return new JsonResponse($this->list->page($this->there($id)));
    }

    /** What servers answered may hold what is not everybody's business. */
    #[Route('/api/evidence/{id<\d{1,18}>}', methods: ['GET'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function evidence(int $id): JsonResponse
    {
        return new JsonResponse($this->list->evidence($id));
    }

    #[Route('/api/checks/try', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function try(#[Body] CheckFields $fields): JsonResponse
    {
        // One that is there already is tried with the secrets it has.
        $check = $fields->id === null ? new Target('trial', '', $this->clock->now()) : clone $this->there($fields->id);
        $this->form->fillAsks($check, $fields);

        return new JsonResponse($this->trials->of($check));
    }

    /** Who follows a database, to choose from. */
    #[Route('/api/checks/partners', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function partners(#[Body] CheckFields $fields): JsonResponse
    {
        $check = $fields->id === null ? new Target('', '', $this->clock->now()) : $this->there($fields->id);

        return new JsonResponse($this->partners->of($check, $fields));
    }

    #[Route('/api/checks', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(#[Body] CheckFields $fields): JsonResponse
    {
        $check = new Target('', '', $this->clock->now());
        $this->form->fill($check, $fields);
        $this->entities->persist($check);
        $this->entities->flush();
        // Whoever adds one wants to see what comes of it, also of one that is asked once a day.
        $this->wishes->wish($check->id(), $check->places, $this->clock->now()->ms);
        $shown = $this->list->settings($check);
        $this->audit->record('added', "check {$check->name}", null, $shown);

        return new JsonResponse($this->list->one($check), 201);
    }

    #[Route('/api/checks/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, #[Body] CheckFields $fields): JsonResponse
    {
        $check = $this->there($id);
        $before = $this->list->settings($check);
        Versions::hold($fields->version, $check->version, $before);
        $laid = $check->labels + ['target' => $check->name];
        $this->form->fill($check, $fields);
        $this->entities->flush();
        $this->labelChanges->follow($laid, $check->labels + ['target' => $check->name]);
        if (!$check->paused) {
            $this->wishes->wish($check->id(), $check->places, $this->clock->now()->ms);
        }
        $this->audit->record('changed', "check {$check->name}", $before, $this->list->settings($check));

        return new JsonResponse($this->list->one($check));
    }

    /** Asked from each of its places as soon as they hear of it. */
    #[Route('/api/checks/{id<\d{1,9}>}/run', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function run(int $id): JsonResponse
    {
        $check = $this->there($id);
        if ($check->paused) {
            throw new Problem(409, "{$check->name} is paused; resume it first");
        }
        $this->wishes->wish($check->id(), $check->places, $this->clock->now()->ms);

        return new JsonResponse(null, 204);
    }

    /** @throws Problem 404 */
    private function there(int $id): Target
    {
        $check = $this->targets->there($id);

        return $check->kind->isCheck() ? $check : throw new Problem(404, "There is no check {$id}");
    }
}
