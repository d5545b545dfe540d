<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\ParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\App\Rule\LabelChanges;
use Olivine\App\Store\StoreCost;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Exposition;
use Olivine\Core\Exposition\Sample;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Formula\MetricUnit;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;
use Symfony\Component\Security\Http\Attribute\IsGranted;

#[IsGranted('ROLE_VIEWER')]
final readonly class FleetApi
{
    private const MOST_AT_ONCE = 5_000;
    private const MOST_FAMILIES = 400;
    private const READINGS_A_FAMILY = 3;

    public function __construct(
        private EntityManagerInterface $entities,
        private FleetList $list,
        private Audit $audit,
        private TargetForm $form,
        private Credentials $credentials,
        private TargetLimits $limits,
        private StoreCost $cost,
        private Reach $reach,
        private TargetRests $rests,
        private LabelChanges $labelChanges,
        private TokenStorageInterface $tokens,
    ) {
    }

    #[Route('/api/targets', methods: ['GET'])]
    public function targets(): JsonResponse
    {
        return new JsonResponse($this->list->all());
    }

    #[Route('/api/targets/test', methods: ['POST'])]
    #[IsGranted('ROLE_ENGINEER')]
    public function test(Request $request): JsonResponse
    {
        $input = Input::of($request);
        // A target that is there already is tested with the credential it has.
        $target = $input->has('id')
            ? clone $this->find($input->whole('id', 1, PHP_INT_MAX))
            : new Target('test', '', Clock::nowMs());
        $this->form->fillRequest($target, $input);
        $scrape = (new Scraper($this->credentials, $this->reach, $this->limits->limits()))->once($target);
        if ($scrape->fault !== null) {
            return new JsonResponse(['ok' => false, 'message' => $scrape->fault]);
        }
        try {
            $read = TextReader::read($scrape->body, $scrape->form, $this->limits->limits());
        } catch (BadExposition $error) {
            return new JsonResponse([
                'ok' => false,
                'message' => $error->place(),
                'form' => $scrape->form->value,
                'seconds' => $scrape->seconds(),
            ]);
        }

        return new JsonResponse([
            'ok' => $read->samples !== [],
            'message' => $read->samples === [] ? 'The answer holds no readings; check that the URL is that of the metrics' : '',
            'form' => $scrape->form->value,
            'seconds' => $scrape->seconds(),
            'bytes' => strlen($scrape->body),
            'families' => count($read->families),
            'series' => count($read->samples),
            'readingsADay' => ($readings = (int) ((count($read->samples) * 86_400) / $target->intervalSeconds)),
            'bytesADay' => (int) ($readings * $this->cost->bytesPerReading()),
            'hints' => self::hints($read, $target, $scrape->seconds()),
            'found' => self::found($read),
        ]);
    }

    /**
     * What the answer holds, family by family, so that one sees what is missing.
     *
     * @return list<array{name: string, type: string, unit: string, help: string, series: int, readings: list<array{labels: object, value: string}>}>
     */
    private static function found(Exposition $read): array
    {
        $samples = [];
        foreach ($read->samples as $sample) {
            $samples[$sample->family->name][] = $sample;
        }
        $found = [];
        foreach (array_slice($read->families, 0, self::MOST_FAMILIES) as $family) {
            $of = $samples[$family->name] ?? [];
            $found[] = [
                'name' => $family->name,
                'type' => $family->type->value ?? 'unknown',
                'unit' => MetricUnit::ofName($family->name, $family->unit ?? ''),
                'help' => mb_substr($family->help ?? '', 0, 300),
                'series' => count($of),
                'readings' => array_map(
                    static fn(Sample $sample): array => [
                        'labels' => (object) $sample->labels->labels,
                        'value' => (string) json_encode(is_finite($sample->value) ? $sample->value : (string) $sample->value),
                    ],
                    array_slice($of, 0, self::READINGS_A_FAMILY),
                ),
            ];
        }

        return $found;
    }

    #[Route('/api/targets', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(Request $request): JsonResponse
    {
        $target = new Target('', '', Clock::nowMs());
        $this->form->fill($target, Input::of($request));
        $this->entities->persist($target);
        $this->entities->flush();
        $shown = $this->list->one($target->id());
        $this->audit->record('added', "target {$target->name}", null, $shown);

        return new JsonResponse($shown, 201);
    }

    /** All or none; answers which of them it changed, so that just these can be changed back. */
    #[Route('/api/targets/many', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function many(Request $request): JsonResponse
    {
        $input = Input::of($request);
        $action = $input->oneOf('action', ManyAction::class);
        $targets = $this->entities
            ->getRepository(Target::class)
            ->findBy(['id' => $input->ids('ids', self::MOST_AT_ONCE)], ['name' => 'ASC']);
        $changed = array_values(array_filter($targets, $action->concerns(...)));
        foreach ($changed as $target) {
            $action->apply($target, Clock::nowMs());
        }
        $this->entities->flush();
        $action === ManyAction::Pause && $this->tickPauses($changed);
        $this->rests->follow($changed, $this->who(), Clock::nowMs());
        $names = array_map(static fn(Target $target): string => $target->name, $changed);
        $names === [] || $this->audit->record($action->past(), sprintf('%d targets', count($names)), null, ['targets' => $names]);

        return new JsonResponse(['changed' => array_map(static fn(Target $target): int => $target->id(), $changed)]);
    }

    #[Route('/api/targets/{id<\d{1,9}>}/pause', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function pause(int $id, Request $request): JsonResponse
    {
        $target = $this->find($id);
        $before = $target->paused;
        $target->paused = Input::of($request)->yes('paused', true);
        $this->entities->flush();
        $target->paused && !$before && $this->tickPauses([$target]);
        $this->rests->follow([$target], $this->who(), Clock::nowMs());
        $this->audit->record(
            $target->paused ? 'paused' : 'resumed',
            "target {$target->name}",
            ['paused' => $before],
            ['paused' => $target->paused],
        );

        return new JsonResponse($this->list->one($target->id()));
    }

    #[Route('/api/targets/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function change(int $id, Request $request): JsonResponse
    {
        $target = $this->find($id);
        $input = Input::of($request);
        $before = $this->list->one($target->id());
        Versions::hold($input, $target->version, $before);
        $laid = self::laid($target);
        $this->form->fill($target, $input);
        $this->entities->flush();
        $this->labelChanges->follow($laid, self::laid($target));
        $shown = $this->list->one($target->id());
        $this->audit->record('changed', "target {$target->name}", $before, $shown);

        return new JsonResponse($shown);
    }

    #[Route('/api/targets/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $target = $this->find($id);
        $before = $this->list->one($target->id());
        $target->removedAt = Clock::nowMs();
        $this->entities->flush();
        $this->rests->follow([$target], $this->who(), Clock::nowMs());
        $this->audit->record('removed', "target {$target->name}", $before, null);

        return new JsonResponse(null, 204);
    }

    /** Takes a removal back; its readings are still there. */
    #[Route('/api/targets/{id<\d{1,9}>}/restore', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function restore(int $id): JsonResponse
    {
        $target =
            $this->entities->find(Target::class, $id) ??
            throw new Problem(404, 'This target is gone for good: removed targets are kept for a day');
        $target->removedAt = null;
        $this->entities->flush();
        $this->rests->follow([$target], $this->who(), Clock::nowMs());
        $shown = $this->list->one($target->id());
        $this->audit->record('restored', "target {$target->name}", null, $shown);

        return new JsonResponse($shown);
    }

    private function who(): string
    {
        $person = $this->tokens->getToken()?->getUser();

        return $person instanceof Person ? $person->name : '';
    }

    /** @return array<string, string> what it lays over the labels of its series */
    private static function laid(Target $target): array
    {
        return $target->labels + ['target' => $target->name];
    }

    /** @param list<Target> $targets that are paused from now on */
    private function tickPauses(array $targets): void
    {
        $this->entities
            ->getConnection()
            ->executeStatement(
                'UPDATE target_status SET ticks = ' . Tick::behind('?') . ' WHERE target_id IN (?)',
                [Tick::Paused->at(Clock::nowMs()), array_map(static fn(Target $target): int => $target->id(), $targets)],
                [ParameterType::STRING, ArrayParameterType::INTEGER],
            );
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
            $hints[] = sprintf(
                'It takes %.1f s to answer, more than half of its interval of %d s; choose a longer one',
                $seconds,
                $target->intervalSeconds,
            );
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
                $hints[] = sprintf(
                    'The label %s has %s different values; each makes series of its own',
                    $name,
                    number_format(count($different)),
                );
            }
        }

        return array_values($hints);
    }
}
