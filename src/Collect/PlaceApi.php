<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Definition\StationTokenFields;
use Olivine\App\Collect\Entity\Place;
use Olivine\App\Collect\Entity\StationToken;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\Repository\PlaceRepository;
use Olivine\App\Collect\Repository\StationTokenRepository;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Collect\Station\PlaceList;
use Olivine\App\Collect\Station\StationKeys;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\Core\Time\Duration;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Places that checks are asked from, and what lets stations join. */
#[IsGranted('ROLE_VIEWER')]
final readonly class PlaceApi
{
    public function __construct(
        private EntityManagerInterface $entities,
        private PlaceRepository $places,
        private StationTokenRepository $tokens,
        private TargetRepository $targets,
        private PlaceList $list,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/places', methods: ['GET'])]
    public function places(): JsonResponse
    {
        return new JsonResponse($this->list->all());
    }

    /** The token is told this once. */
    #[Route('/api/station-tokens', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function add(#[Body] StationTokenFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $known = array_map(static fn(Target $check): int => $check->id(), $this->targets->checks());
        $unknown = array_values(array_diff($fields->checks, $known));
        if ($unknown !== []) {
            throw Problem::field('checks', "There is no check {$unknown[0]}");
        }
        $now = $this->clock->now();
        $told = StationKeys::TOKEN_PREFIX . StationKeys::made();
        $ends = $now->plus(Duration::ofHours($fields->hours));
        $token = new StationToken($fields->name, StationKeys::digest($told), $fields->names, $fields->checks, $fields->most, $self->id(), $now, $ends);
        $this->entities->persist($token);
        $this->entities->flush();
        $this->audit->record('added', "station token {$token->name}", null, PlaceList::token($token));

        return new JsonResponse(PlaceList::token($token, $told), 201);
    }

    #[Route('/api/station-tokens/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function end(int $id): JsonResponse
    {
        $token = $this->tokens->find($id) ?? throw new Problem(404, "There is no token {$id}");
        $this->entities->remove($token);
        $this->audit->record('removed', "station token {$token->name}", PlaceList::token($token), null);
        $this->entities->flush();

        return new JsonResponse(null, 204);
    }

    /** Its station is let in no more; what it saw stays under its name. */
    #[Route('/api/places/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(int $id): JsonResponse
    {
        $place = $this->places->find($id);
        if ($place === null || $place->removedAt !== null) {
            throw new Problem(404, "There is no place {$id}");
        }
        if ($id === Place::CENTRE) {
            throw new Problem(409, 'This is where Olivine itself runs; it stays');
        }
        $asked = array_filter($this->targets->checks(), static fn(Target $check): bool => in_array($id, $check->places, true));
        $alone = array_filter($asked, static fn(Target $check): bool => count($check->places) === 1);
        if ($alone !== []) {
            $names = implode(', ', array_map(static fn(Target $check): string => $check->name, array_slice($alone, 0, 5)));
            throw new Problem(409, "From {$place->name} alone are asked: {$names}; give them another place first");
        }
        foreach ($asked as $check) {
            $check->places = array_values(array_diff($check->places, [$id]));
        }
        $place->removedAt = $this->clock->now();
        $place->keyDigest = null;
        $this->audit->record('removed', "place {$place->name}", ['name' => $place->name], null);
        $this->entities->flush();

        return new JsonResponse(null, 204);
    }
}
