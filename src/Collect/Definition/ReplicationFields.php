<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Whole;

/** A database and those that follow it: how far each is behind. */
final readonly class ReplicationFields implements LoggedIn
{
    public const PASSWORD = 'password';
    public const MOST_PARTNERS = 16;
    public string $kind;

    /**
     * @param string              $host        of the source
     * @param int|null            $port        null: that of the engine
     * @param string              $user        one and the same at both ends
     * @param list<PartnerFields> $partners
     * @param float               $mostSeconds how far a partner may be behind
     */
    public function __construct(
        public SqlEngine $engine,
        #[Line(253, 1)]
        public string $host,
        #[Line(128, 1)]
        public string $user,
        #[ListOf(PartnerFields::class, 0, self::MOST_PARTNERS)]
        public array $partners,
        #[Whole(1, 65_535)]
        public ?int $port = null,
        #[Line(128)]
        public string $database = '',
        #[Number(0, 604_800)]
        public float $mostSeconds = 60.0,
        #[Number(0.1, 60)]
        public float $patienceSeconds = 5.0,
    ) {
        $this->kind = SourceKind::Replication->value;
    }

    public function kind(): SourceKind
    {
        return SourceKind::Replication;
    }

    public function address(): string
    {
        return "{$this->engine->value}://{$this->host}:{$this->port()} and " . implode(', ', array_column($this->partners, 'name'));
    }

    public function port(): int
    {
        return $this->port ?? $this->engine->port();
    }

    public function portOf(PartnerFields $partner): int
    {
        return $partner->port ?? $this->engine->port();
    }

    public function logins(): array
    {
        $where = ["{$this->engine->value}://{$this->user}@{$this->host}:{$this->port()}"];
        foreach ($this->partners as $partner) {
            $where[] = "{$this->engine->value}://{$this->user}@{$partner->host}:{$this->portOf($partner)}";
        }

        return [self::PASSWORD => array_values(array_unique($where))];
    }
}
