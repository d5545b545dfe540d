<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Check\Expect\ExpectationReader;

/** One row of a database. */
final readonly class SqlFields implements LoggedIn
{
    public const PASSWORD = 'password';
    public string $kind;

    /**
     * @param int|null $port    null: that of the engine
     * @param string   $query   one that reads; each number of its first row becomes a reading, named by its column
     * @param string   $expects what that row must hold, such as `json /lag_seconds < 30`
     */
    public function __construct(
        public SqlEngine $engine,
        #[Line(253, 1)]
        public string $host,
        #[Line(128, 1)]
        public string $user,
        #[Text(8_000, 1)]
        public string $query,
        #[Whole(1, 65_535)]
        public ?int $port = null,
        #[Line(128)]
        public string $database = '',
        #[Text(ExpectationReader::LONGEST)]
        public string $expects = '',
        #[Number(0.1, 60)]
        public float $patienceSeconds = 5.0,
    ) {
        $this->kind = SourceKind::Sql->value;
    }

    public function kind(): SourceKind
    {
        return SourceKind::Sql;
    }

    public function port(): int
    {
        return $this->port ?? $this->engine->port();
    }

    public function address(): string
    {
        return "{$this->engine->value}://{$this->host}:{$this->port()}/{$this->database}";
    }

    public function logins(): array
    {
        return [self::PASSWORD => ["{$this->engine->value}://{$this->user}@{$this->host}:{$this->port()}"]];
    }
}
