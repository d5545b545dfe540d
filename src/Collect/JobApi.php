<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Definition\JobFields;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Job\JobForm;
use Olivine\App\Collect\Job\JobKeys;
use Olivine\App\Collect\Job\JobList;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\People\Audit;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\LabelChanges;
use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapQueryParameter;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Jobs that say themselves when they run: listed, added, changed; pausing and removing are those of any target. */
#[IsGranted('ROLE_VIEWER')]
final readonly class JobApi
{
    private const MOST_DAYS = 31;

    public function __construct(
        private EntityManagerInterface $entities,
        private TargetRepository $targets,
        private JobList $list,
        private JobForm $form,
        private JobKeys $keys,
        private LabelChanges $labelChanges,
        private Audit $audit,
        private Security $security,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/jobs', methods: ['GET'])]
    public function jobs(#[MapQueryParameter] int $days = 3): JsonResponse
    {
        return new JsonResponse($this->list->all(self::days($days)));
    }

    #[Route('/api/jobs/{id<\d{1,9}>}', methods: ['GET'])]
    public function job(int $id, #[MapQueryParameter] int $days = 14): JsonResponse
    {
        return new JsonResponse($this->list->page($this->there($id), self::days($days), $this->security->isGranted('ROLE_ENGINEER')));
    }

    /** What a job prints may hold what is not everybody's business. */
    #[Route('/api/runs/{id<\d{1,18}>}', methods: ['GET'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function output(int $id): JsonResponse
    {
        return new JsonResponse($this->list->output($id));
    }

    #[Route('/api/jobs', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(#[Body] JobFields $fields): JsonResponse
    {
        $job = new Target('', '', $this->clock->now());
        $this->form->fill($job, $fields);
        $this->entities->persist($job);
        $this->entities->flush();
        $this->keys->renew($job);
        $this->entities->flush();
        $shown = $this->list->settings($job);
        $this->audit->record('added', "job {$job->name}", null, $shown);

        return new JsonResponse($shown, 201);
    }

    #[Route('/api/jobs/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, #[Body] JobFields $fields): JsonResponse
    {
        $job = $this->there($id);
        $before = $this->list->settings($job);
        Versions::hold($fields->version, $job->version, $before);
        $laid = $job->labels + ['target' => $job->name];
        $this->form->fill($job, $fields);
        $this->entities->flush();
        $this->labelChanges->follow($laid, $job->labels + ['target' => $job->name]);
        $shown = $this->list->settings($job);
        $this->audit->record('changed', "job {$job->name}", $before, $shown);

        return new JsonResponse($shown);
    }

    /** Another address: whoever knows the one before can report nothing any more. */
    #[Route('/api/jobs/{id<\d{1,9}>}/address', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function renew(int $id): JsonResponse
    {
        $job = $this->there($id);
        $this->keys->renew($job);
        $this->entities->flush();
        $this->audit->record('changed', "address of job {$job->name}", null, null);

        return new JsonResponse(null, 204);
    }

    /** @throws Problem */
    private static function days(int $days): int
    {
        return $days >= 1 && $days <= self::MOST_DAYS ? $days : throw Problem::field('days', 'days must be a whole number from 1 to ' . self::MOST_DAYS);
    }

    /** @throws Problem 404 */
    private function there(int $id): Target
    {
        $job = $this->targets->there($id);

        return $job->kind === SourceKind::Job ? $job : throw new Problem(404, "There is no job {$id}");
    }
}
