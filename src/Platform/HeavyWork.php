<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\App\People\Entity\Person;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;

/**
 * Long reads: at most three at once and two of one person, so that however much is asked, workers are left for what is
 * short. Who finds no place after a moment is told to come again. Each ends with its time, or when nobody waits.
 *
 * A place is a locked file: whatever ends its process frees it.
 */
final readonly class HeavyWork
{
    private const PLACES = 3;
    private const OF_ONE_PERSON = 2;
    private const PATIENCE_SECONDS = 1.5;
    private const LOOK_EVERY_US = 50_000;

    public function __construct(
        private WorkTime $time,
        private TokenStorageInterface $tokens,
        #[Autowire('%env(OLIVINE_WORK_DIR)%')]
        private string $dir,
    ) {
    }

    /**
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     *
     * @throws Problem 429 where there is no place
     */
    public function within(float $seconds, callable $work): mixed
    {
        $places = $this->take();
        $this->time->begin($seconds);
        try {
            return $work();
        } finally {
            $this->time->end();
            array_map(fclose(...), $places);
        }
    }

    /**
     * Work of minutes: one at a time of all people, in a place of its own, so that what takes seconds finds its place.
     *
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     *
     * @throws Problem 429 where another one is under way
     */
    public function alone(float $seconds, callable $work): mixed
    {
        $place = $this->place('alone', 1) ?? throw new Problem(429, 'Another long replay is under way; ask again when it is over, or choose a shorter span');
        $this->time->begin($seconds);
        try {
            return $work();
        } finally {
            $this->time->end();
            fclose($place);
        }
    }

    /**
     * Held until the last piece was taken, or nobody takes the next.
     *
     * @param iterable<string> $pieces
     *
     * @return \Generator<string>
     *
     * @throws Problem 429 where too much is under way already
     */
    public function pieces(float $seconds, iterable $pieces): \Generator
    {
        $places = $this->take();
        $this->time->begin($seconds);
        try {
            yield from $pieces;
        } finally {
            $this->time->end();
            array_map(fclose(...), $places);
        }
    }

    /**
     * @return list<resource> locked files: that of the person, and that of all
     *
     * @throws Problem
     */
    private function take(): array
    {
        $user = $this->tokens->getToken()?->getUser();
        $person = $user instanceof Person ? $user->id() : 0;
        $until = microtime(true) + self::PATIENCE_SECONDS;
        do {
            $own = $this->place("heavy-of-{$person}", self::OF_ONE_PERSON);
            $place = $own === null ? null : $this->place('heavy', self::PLACES);
            if ($own !== null && $place !== null) {
                return [$own, $place];
            }
            if ($own !== null) {
                fclose($own);
            }
            usleep(self::LOOK_EVERY_US);
        } while (microtime(true) < $until);

        throw new Problem(
            429,
            $own === null
                ? 'Two long questions of yours are being answered already; ask again when one of them is'
                : 'Three long questions are being answered already; ask again in some seconds',
        );
    }

    /** @return resource|null */
    private function place(string $name, int $places): mixed
    {
        if (!is_dir($this->dir)) {
            @mkdir($this->dir, 0o700, true);
        }
        for ($i = 1; $i <= $places; ++$i) {
            $file = fopen("{$this->dir}/{$name}-{$i}.lock", 'c');
            if ($file !== false && flock($file, LOCK_EX | LOCK_NB)) {
                return $file;
            }
            if ($file !== false) {
                fclose($file);
            }
        }

        return null;
    }
}
