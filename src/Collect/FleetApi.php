<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\People\Audit;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
use Olivine\App\Store\StoreCost;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Exposition;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\ReadingSource;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Symfony\Contracts\Cache\CacheInterface;
use Symfony\Contracts\Cache\ItemInterface;

#[IsGranted('ROLE_VIEWER')]
final readonly class FleetApi
{
    private const RIBBON_SCRAPES = 30;
    private const RIBBONS_KEPT_SECONDS = 3;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $connection,
        private ReadingSource $readings,
        private Audit $audit,
        private TargetForm $form,
        private Credentials $credentials,
        private StoreCost $cost,
        private CacheInterface $cache,
    ) {
    }

    #[Route('/api/targets', methods: ['GET'])]
    public function targets(): JsonResponse
    {
        $now = Clock::nowMs();
        $status = $this->connection->fetchAllAssociativeIndexed('SELECT target_id, at, ok, ok_at, form, seconds, bytes, readings, message, refused FROM target_status');
        $ribbons = $this->cache->get('ribbons', function (ItemInterface $item) use ($now): array {
            $item->expiresAfter(self::RIBBONS_KEPT_SECONDS);

            return $this->ribbons($now);
        });

        return new JsonResponse(array_map(fn(Target $target): array => $this->shown($target) + [
            'status' => isset($status[$target->id]) ? [
                'at' => (int) $status[$target->id]['at'],
                'ok' => (bool) $status[$target->id]['ok'],
                'okAt' => $status[$target->id]['ok_at'] === null ? null : (int) $status[$target->id]['ok_at'],
                'form' => $status[$target->id]['form'],
                'seconds' => (float) $status[$target->id]['seconds'],
                'bytes' => (int) $status[$target->id]['bytes'],
                'readings' => (int) $status[$target->id]['readings'],
                'message' => $status[$target->id]['message'],
                'refused' => (int) $status[$target->id]['refused'],
            ] : null,
            'ribbon' => $ribbons[$target->name] ?? [],
        ], $this->entities->getRepository(Target::class)->findBy(['removedAt' => null], ['name' => 'ASC'])));
    }

    #[Route('/api/targets/test', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function test(Request $request): JsonResponse
    {
        $input = Input::of($request);
        // A target that is there already is tested with the credential it has.
        $target = $input->has('id') ? clone $this->find($input->whole('id', 1, PHP_INT_MAX)) : new Target('test', '', Clock::nowMs());
        $this->form->fillRequest($target, $input);
        $scrape = (new Scraper($this->credentials))->once($target);
        if ($scrape->fault !== null) {
            return new JsonResponse(['ok' => false, 'message' => $scrape->fault]);
        }
        try {
            $read = TextReader::read($scrape->body, $scrape->form);
        } catch (BadExposition $error) {
            return new JsonResponse(['ok' => false, 'message' => $error->getMessage(), 'form' => $scrape->form->value, 'seconds' => $scrape->seconds()]);
        }

        return new JsonResponse([
            'ok' => $read->samples !== [],
            'message' => $read->samples === [] ? 'The answer holds no readings; check that the URL is that of the metrics' : '',
            'form' => $scrape->form->value,
            'seconds' => $scrape->seconds(),
            'bytes' => strlen($scrape->body),
            'families' => count($read->families),
            'series' => count($read->samples),
            'readingsADay' => $readings = (int) (count($read->samples) * 86_400 / $target->intervalSeconds),
            'bytesADay' => (int) ($readings * $this->cost->bytesPerReading()),
            'hints' => self::hints($read, $target, $scrape->seconds()),
        ]);
    }

    #[Route('/api/targets', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(Request $request): JsonResponse
    {
        $target = new Target('', '', Clock::nowMs());
        $this->form->fill($target, Input::of($request));
        $this->entities->persist($target);
        $this->entities->flush();
        $this->audit->record('added', "target {$target->name}", null, $this->shown($target));

        return new JsonResponse($this->shown($target), 201);
    }

    #[Route('/api/targets/{id<\d{1,9}>}/pause', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function pause(int $id, Request $request): JsonResponse
    {
        $target = $this->find($id);
        $before = $target->paused;
        $target->paused = Input::of($request)->yes('paused', true);
        $this->entities->flush();
        $this->audit->record($target->paused ? 'paused' : 'resumed', "target {$target->name}", ['paused' => $before], ['paused' => $target->paused]);

        return new JsonResponse($this->shown($target));
    }

    #[Route('/api/targets/{id<\d{1,9}>}', methods: ['PUT'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, Request $request): JsonResponse
    {
        $target = $this->find($id);
        $before = $this->shown($target);
        $this->form->fill($target, Input::of($request));
        $this->entities->flush();
        $this->audit->record('changed', "target {$target->name}", $before, $this->shown($target));

        return new JsonResponse($this->shown($target));
    }

    #[Route('/api/targets/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $target = $this->find($id);
        $target->removedAt = Clock::nowMs();
        $this->entities->flush();
        $this->audit->record('removed', "target {$target->name}", $this->shown($target), null);

        return new JsonResponse(null, 204);
    }

    /** Takes a removal back; its readings are still there. */
    #[Route('/api/targets/{id<\d{1,9}>}/restore', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function restore(int $id): JsonResponse
    {
        $target = $this->entities->find(Target::class, $id) ?? throw new Problem(404, 'This target is gone for good: removed targets are kept for a day');
        $target->removedAt = null;
        $this->entities->flush();
        $this->audit->record('restored', "target {$target->name}", null, $this->shown($target));

        return new JsonResponse($this->shown($target));
    }

    private function find(int $id): Target
    {
        $target = $this->entities->find(Target::class, $id);

        return $target !== null && $target->removedAt === null ? $target : throw new Problem(404, "There is no target {$id}");
    }

    /** @return list<string> what is not wrong, but worth a look before it is saved */
    private static function hints(Exposition $read, Target $target, float $seconds): array
    {
        $hints = [];
        if ($seconds > 0.5 * $target->intervalSeconds) {
            $hints[] = sprintf('It takes %.1f s to answer, more than half of its interval of %d s; choose a longer one', $seconds, $target->intervalSeconds);
        }
        $nameless = count(array_filter($read->families, static fn($family): bool => $family->type === null));
        if ($nameless > 0) {
            $hints[] = "{$nameless} families say no type; they are taken as they come";
        }
        $values = [];
        foreach ($read->samples as $sample) {
            foreach ($sample->labels->labels as $name => $value) {
                $values[$name][$value] = true;
            }
            if ($sample->atMs !== null && abs($sample->atMs - Clock::nowMs()) > 60_000) {
                $hints['clock'] = 'Some readings carry times more than a minute from now; a clock may be off';
            }
        }
        foreach ($values as $name => $different) {
            if (count($different) > 500) {
                $hints[] = sprintf('The label %s has %s different values; each makes series of its own', $name, number_format(count($different)));
            }
        }

        return array_values($hints);
    }

    /** @return array<string, list<array{int, float|null}>> the last scrapes by target: when, and 1, 0 or nothing */
    private function ribbons(int $now): array
    {
        $ribbons = [];
        $windows = $this->readings->windows(new Select(new Place(0, 0), 'olivine_scrape_success', null), $now - 1_900_000, $now);
        foreach ($windows as $window) {
            $from = max(0, count($window->times) - self::RIBBON_SCRAPES);
            $ribbon = [];
            for ($i = $from, $count = count($window->times); $i < $count; ++$i) {
                $ribbon[] = [$window->times[$i], $window->values[$i]];
            }
            $ribbons[$window->labels->get('target')] = $ribbon;
        }

        return $ribbons;
    }

    /** @return array<string, mixed> */
    private function shown(Target $target): array
    {
        return [
            'id' => $target->id,
            'name' => $target->name,
            'url' => $target->url,
            'intervalSeconds' => $target->intervalSeconds,
            'timeoutSeconds' => $target->timeoutSeconds,
            'labels' => (object) $target->labels,
            'ownLabels' => (object) $target->ownLabels,
            'group' => $target->group === null ? null : ['id' => $target->group->id(), 'name' => $target->group->name],
            'inherits' => $target->inherits,
            'credential' => $this->form->shownCredential($target->sealedCredential()),
            'paused' => $target->paused,
        ];
    }
}
