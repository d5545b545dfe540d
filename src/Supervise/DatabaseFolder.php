<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

/**
 * Where an instance's database keeps its tables, and what it puts aside while it works. Its temporary tables have a
 * folder of their own: a server that starts clears away what looks like the leftovers of another one, so two that
 * share /tmp take each other's tables.
 */
final readonly class DatabaseFolder
{
    public string $tables;
    public string $temporary;

    public function __construct(string $instanceDir, private string $user)
    {
        $this->tables = "{$instanceDir}/database";
        $this->temporary = "{$instanceDir}/database-temporary";
    }

    public function prepare(): void
    {
        foreach ([$this->tables, $this->temporary] as $folder) {
            if (!is_dir($folder)) {
                mkdir($folder, 0o700);
            }
            chown($folder, $this->user);
        }
    }

    public function isEmpty(): bool
    {
        return !is_dir("{$this->tables}/mysql");
    }

    /** @return non-empty-list<string> the command that fills an empty folder with the server's own tables */
    public function fill(): array
    {
        return ['mariadb-install-db', ...$this->options(), '--auth-root-authentication-method=socket', '--skip-test-db'];
    }

    /** @return list<string> what the server itself needs to know of it */
    public function options(): array
    {
        return ['--no-defaults', "--user={$this->user}", "--datadir={$this->tables}", "--tmpdir={$this->temporary}"];
    }
}
