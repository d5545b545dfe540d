<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

/** What is asked with passwords of its own, each entered for certain servers. */
interface LoggedIn extends AskFields
{
    /** @return array<string, list<string>> the name of each secret it may have → where it goes, which the secret was entered for */
    public function logins(): array;
}
