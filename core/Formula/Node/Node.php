<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** A part of a formula, with its place in the text. */
interface Node
{
    public function place(): Place;
}
