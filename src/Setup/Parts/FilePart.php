<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Parts;

use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Problem;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/**
 * A kind of thing that stands in files as a few keys, such as channels: how it is written, how it is now, and how it is put there. What a
 * file leaves out is as it is where nobody says otherwise.
 */
#[AutoconfigureTag]
interface FilePart
{
    /** Under which key they stand in a file: `channels`. */
    public function kind(): string;

    /** What one of them is called: `channel`. */
    public function word(): string;

    /** @return array<string, string|int|float|bool> every key that may be written, with what holds where it is not */
    public function keys(): array;

    /** @return list<string> keys that stay as they are where a file leaves them out */
    public function staying(): array;

    /** @return array<string, string> field of its definition → the key at which it is written, where that is another */
    public function keyOf(): array;

    /** @return array<string, array<string, string|int|float|bool>> all that are there → every key, as a file would say it; nothing secret */
    public function now(): array;

    /**
     * Whether it could be so, beside what comes with the same files.
     *
     * @param array<string, string|int|float|bool> $written every key
     *
     * @throws Problem naming the key
     */
    public function check(string $name, array $written): void;

    /**
     * @param array<string, string|int|float|bool> $written every key
     *
     * @throws Problem naming the key
     */
    public function put(string $name, array $written, ?Person $author): void;
}
