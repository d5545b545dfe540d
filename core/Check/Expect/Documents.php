<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** Reads documents that came from strangers. */
interface Documents
{
    /**
     * @return list<string|float|bool|null> what stands at the place, in the order of the document
     *
     * @throws NoDocument where the text is no document of that kind, or the place cannot be read
     */
    public function at(string $text, DocumentPlace $place): array;
}
