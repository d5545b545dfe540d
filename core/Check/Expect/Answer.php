<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** What came back, as far as an expectation can look at it. */
interface Answer
{
    /** @return int|null of HTTP; null where the protocol has none */
    public function status(): ?int;

    public function text(): string;

    /** @return string|null null where there is no such header */
    public function header(string $name): ?string;

    /**
     * @return list<string|float|bool|null> what stands at this place of the document, in its order
     *
     * @throws NoDocument where it is none of that kind, or the place cannot be read
     */
    public function at(DocumentPlace $place): array;
}
