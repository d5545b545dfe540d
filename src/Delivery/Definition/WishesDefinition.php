<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\Wishes;

/** How somebody wants to be told where a rung leaves it to them. */
final readonly class WishesDefinition
{
    /**
     * @param list<string>         $critical channels, all at once; empty: the first one that there is
     * @param list<string>         $major
     * @param list<string>         $minor
     * @param list<string>         $warning
     * @param HoursDefinition|null $quiet    what is less than critical waits until these are over
     */
    public function __construct(
        #[Names(40)]
        public array $critical = [],
        #[Names(40)]
        public array $major = [],
        #[Names(40)]
        public array $minor = [],
        #[Names(40)]
        public array $warning = [],
        public ?HoursDefinition $quiet = null,
    ) {
    }

    /** @return array<string, list<string>> channels */
    public function bySeverity(): array
    {
        return ['critical' => $this->critical, 'major' => $this->major, 'minor' => $this->minor, 'warning' => $this->warning];
    }

    /**
     * @param list<string> $holidays of the site
     *
     * @throws Problem naming the field
     */
    public function core(array $holidays): Wishes
    {
        return new Wishes(array_filter($this->bySeverity(), static fn(array $some): bool => $some !== []), $this->quiet?->core($holidays));
    }
}
