<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Collect\Entity\Place;
use Olivine\App\Collect\Entity\StationToken;
use Olivine\App\Collect\Repository\PlaceRepository;
use Olivine\App\Collect\Repository\TargetRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;

/** Lets a station join in the name of a place: a new one, or one whose station went; what the token says is asked from there at once. */
final readonly class Joining
{
    public function __construct(
        private EntityManagerInterface $entities,
        private PlaceRepository $places,
        private TargetRepository $targets,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @return string the key that it shows from now on
     *
     * @throws Problem naming what cannot be so
     */
    public function join(StationToken $token, string $name): string
    {
        if (preg_match('~^[\p{L}\p{N}][\p{L}\p{N} ._-]{0,' . (Place::NAME_LENGTH - 1) . '}$~uD', $name) !== 1) {
            throw Problem::field('name', 'name must begin with a letter or digit; then letters, digits, spaces and . _ - may follow');
        }
        if (!fnmatch($token->names, $name)) {
            throw Problem::field('name', "This token lets stations join whose name fits {$token->names}; {$name} does not");
        }
        $now = $this->clock->now();
        $place = $this->places->findOneBy(['name' => $name]);
        if ($place?->id === Place::CENTRE) {
            throw Problem::field('name', "{$name} is where Olivine itself runs; give the place of the station another name");
        }
        if ($place === null) {
            $place = new Place($name, $now);
            $this->entities->persist($place);
        }
        $key = StationKeys::made();
        $place->keyDigest = StationKeys::digest($key);
        // Another station counts its results anew.
        $place->takenThrough = 0;
        $place->seenAt = $now;
        $place->removedAt = null;
        ++$token->used;
        $this->entities->flush();
        foreach ($this->targets->of($token->checks) as $check) {
            if ($check->kind->isCheck() && $check->removedAt === null) {
                $check->places = array_values(array_unique([...$check->places, $place->id()]));
            }
        }
        $this->entities->flush();

        return $key;
    }
}
