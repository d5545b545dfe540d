<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\Definition\CheckFields;
use Olivine\App\Collect\Definition\LoggedIn;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Platform\Problem;

/** The passwords of checks that log in: each goes to the servers it was entered for, and nowhere else. */
final readonly class Logins
{
    public function __construct(private CheckSecrets $secrets)
    {
    }

    /**
     * Those that were entered, and those that stay as they were.
     *
     * @throws Problem
     */
    public function entered(Target $target, CheckFields $fields, LoggedIn $asks): OpenSecrets
    {
        [$logins, $before, $values] = [$asks->logins(), $this->secrets->open($target), []];
        foreach ($fields->secrets as $secret) {
            $where = $logins[$secret->name] ?? throw Problem::field('secrets', 'It is asked with ' . implode(' and ', array_keys($logins)) . ' alone');
            $kept = $before->values[$secret->name] ?? null;
            if ($secret->value === null && ($kept === null || array_diff($where, $before->origins) !== [])) {
                $name = str_replace('_', ' ', $secret->name);
                throw Problem::field('secrets', "It would go to another server or for another user now; enter the {$name} again");
            }
            $value = $secret->value ?? (string) $kept;
            if (preg_match('~[\x00\r\n]~', $value) === 1) {
                throw Problem::field('secrets', 'A password is one line');
            }
            $values[$secret->name] = $value;
        }

        return new OpenSecrets($values, array_values(array_unique(array_merge(...array_values(array_intersect_key($logins, $values)) ?: [[]]))));
    }

    /**
     * @return array<string, string> the name of a secret → what it is
     *
     * @throws ScrapeRefused where it was entered for another server
     */
    public function of(Target $target, LoggedIn $asks): array
    {
        $secrets = $this->secrets->open($target);
        foreach (array_intersect_key($asks->logins(), $secrets->values) as $where) {
            if (array_diff($where, $secrets->origins) !== []) {
                throw new ScrapeRefused('The password was entered for another server; enter it again');
            }
        }

        return $secrets->values;
    }
}
