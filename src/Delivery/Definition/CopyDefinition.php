<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\ClockTime;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\Copy;
use Olivine\Core\Delivery\CopyTells;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;

/** A row of who else is told. */
final readonly class CopyDefinition implements NamedDefinition
{
    /**
     * @param string              $for  a filter; empty: everything
     * @param list<WhoDefinition> $who  empty: whoever reads at these channels
     * @param list<string>        $by   channels; empty: as each person wishes
     * @param list<string>        $tell `opened`, `worse`, `resolved`
     * @param list<string>        $at   set times such as 09:00, on the clocks of the site; empty: at once
     */
    public function __construct(
        #[Line(80, 1)]
        public string $name,
        #[Text(2_000)]
        public string $for = '',
        public ?HoursDefinition $hours = null,
        #[ListOf(WhoDefinition::class, 0, 10)]
        public array $who = [],
        #[Names(40)]
        public array $by = [],
        #[Names(10)]
        public array $tell = ['opened', 'resolved'],
        #[Names(5)]
        public array $at = [],
    ) {
    }

    public function name(): string
    {
        return $this->name;
    }

    /**
     * @param list<string> $holidays of the site
     *
     * @throws Problem naming the field
     */
    public function core(\DateTimeZone $zone, array $holidays): Copy
    {
        if ($this->who === [] && $this->by === []) {
            throw Problem::field('who', 'who: say who is told, or by which channel');
        }
        $known = implode(', ', array_column(CopyTells::cases(), 'value'));
        $tells = array_map(
            static fn(string $one): CopyTells => CopyTells::tryFrom($one) ?? throw Problem::field('tell', "tell must be of {$known}; this is {$one}"),
            $this->tell,
        );
        if ($tells === []) {
            throw Problem::field('tell', "tell must be at least one of {$known}");
        }
        try {
            $for = $this->for === '' ? null : Parser::filterOf($this->for);
        } catch (FormulaError $error) {
            throw Problem::field('for', "for: {$error->getMessage()}");
        }

        return new Copy(
            $this->name,
            $for,
            $this->hours?->core($holidays),
            array_map(static fn(WhoDefinition $one): Who => $one->core(), $this->who),
            $this->by,
            $tells,
            ClockTime::daily('at', $this->at, $zone),
        );
    }
}
