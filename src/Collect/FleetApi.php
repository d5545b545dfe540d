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
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\ReadingSource;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

#[IsGranted('ROLE_VIEWER')]
final readonly class FleetApi
{
    private const RIBBON_SCRAPES = 30;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $connection,
        private ReadingSource $readings,
        private Audit $audit,
    ) {
    }

    #[Route('/api/targets', methods: ['GET'])]
    public function targets(): JsonResponse
    {
        $now = Clock::nowMs();
        $status = $this->connection->fetchAllAssociativeIndexed('SELECT target_id, at, ok, ok_at, form, seconds, bytes, readings, message FROM target_status');
        $ribbons = $this->ribbons($now);

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
            ] : null,
            'ribbon' => $ribbons[$target->name] ?? [],
        ], $this->entities->getRepository(Target::class)->findBy([], ['name' => 'ASC'])));
    }

    #[Route('/api/targets/test', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function test(Request $request): JsonResponse
    {
        $target = new Target('test', '', Clock::nowMs());
        $this->fill($target, Input::of($request));
        $scraper = new Scraper();
        $scraper->start($target);
        $scrape = null;
        $until = microtime(true) + $target->timeoutSeconds + 1;
        while ($scrape === null && microtime(true) < $until) {
            $scrape = $scraper->advance(0.2)[0] ?? null;
        }
        if ($scrape === null || $scrape->fault !== null) {
            return new JsonResponse(['ok' => false, 'message' => $scrape->fault ?? 'No answer in time']);
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
            'readingsADay' => (int) (count($read->samples) * 86_400 / $target->intervalSeconds),
        ]);
    }

    #[Route('/api/targets', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(Request $request): JsonResponse
    {
        $target = new Target('', '', Clock::nowMs());
        $this->fill($target, Input::of($request));
        if ($this->entities->getRepository(Target::class)->findOneBy(['name' => $target->name]) !== null) {
            throw Problem::field('name', "There is a target named {$target->name} already");
        }
        $this->entities->persist($target);
        $this->entities->flush();
        $this->audit->record('added', "target {$target->name}", null, $this->shown($target));

        return new JsonResponse($this->shown($target), 201);
    }

    #[Route('/api/targets/{id<\d{1,9}>}/pause', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function pause(int $id, Request $request): JsonResponse
    {
        $target = $this->entities->find(Target::class, $id) ?? throw new Problem(404, "There is no target {$id}");
        $before = $target->paused;
        $target->paused = Input::of($request)->yes('paused', true);
        $this->entities->flush();
        $this->audit->record($target->paused ? 'paused' : 'resumed', "target {$target->name}", ['paused' => $before], ['paused' => $target->paused]);

        return new JsonResponse($this->shown($target));
    }

    private function fill(Target $target, Input $input): void
    {
        $name = $input->text('name', 120, $target->name);
        if ($name === '' || preg_match('~^[\p{L}\p{N}][\p{L}\p{N} ._:/-]*$~uD', $name) !== 1) {
            throw Problem::field('name', 'name must begin with a letter or digit; then letters, digits, spaces and . _ : / - may follow');
        }
        $url = $input->text('url', 2_000, shortest: 1);
        $parts = parse_url($url);
        if ($parts === false || !in_array(strtolower($parts['scheme'] ?? ''), ['http', 'https'], true) || ($parts['host'] ?? '') === '') {
            throw Problem::field('url', 'url must be a whole http or https address, such as http://10.0.4.7:9100/metrics');
        }
        $target->name = $name;
        $target->url = $url;
        $target->intervalSeconds = $input->whole('intervalSeconds', 5, 3_600, 15);
        $target->timeoutSeconds = min($target->intervalSeconds, $input->whole('timeoutSeconds', 1, 60, 10));
        $target->labels = $input->labels('labels');
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
            'labels' => (object) $target->labels,
            'paused' => $target->paused,
        ];
    }
}
