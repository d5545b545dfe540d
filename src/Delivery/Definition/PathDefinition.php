<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\ClockTime;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Platform\Problem;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Time\Duration;

/** A row of who answers. */
final readonly class PathDefinition implements NamedDefinition
{
    public const EVERYTHING_ELSE = 'everything else';
    private const LONGEST_GATHER = 86_400;
    private const WEEK = 7 * 86_400;

    /**
     * @param string       $for            a filter on labels, severity, rule and owner; empty: everything
     * @param list<string> $per            labels that an incident's alerts share
     * @param list<string> $gatherUntil    set times such as 09:00 instead of a while, on the clocks of the site
     * @param int          $reopensSeconds what was over for no longer comes up again as the same incident; 0: never
     */
    public function __construct(
        #[Line(80, 1)]
        public string $name,
        #[Line(80, 1)]
        public string $ladder,
        #[Text(2_000)]
        public string $for = '',
        public ?HoursDefinition $hours = null,
        #[Names(60)]
        public array $per = [],
        #[Whole(0, self::LONGEST_GATHER)]
        public int $gatherSeconds = 10,
        #[Names(5)]
        public array $gatherUntil = [],
        #[Whole(0, self::WEEK)]
        public int $reopensSeconds = 600,
    ) {
    }

    public function name(): string
    {
        return $this->name;
    }

    public function isLast(): bool
    {
        return $this->name === self::EVERYTHING_ELSE;
    }

    /**
     * @param list<string> $holidays of the site
     *
     * @throws Problem naming the field
     */
    public function core(Ladder $ladder, \DateTimeZone $zone, array $holidays): Path
    {
        if ($this->isLast() && ($this->for !== '' || $this->hours !== null)) {
            throw Problem::field($this->for !== '' ? 'for' : 'hours', 'everything else answers for everything, at all hours: nothing may fall through');
        }
        $until = ClockTime::daily('gatherUntil', $this->gatherUntil, $zone);
        try {
            $for = $this->for === '' ? null : Parser::filterOf($this->for);
        } catch (FormulaError $error) {
            throw Problem::field('for', "for: {$error->getMessage()}");
        }

        return new Path(
            $this->name,
            $for,
            $this->hours?->core($holidays),
            $this->per,
            $until === null ? Gather::lasting(Duration::ofSeconds($this->gatherSeconds)) : Gather::until($until),
            $ladder,
            $this->reopensSeconds === 0 ? null : Duration::ofSeconds($this->reopensSeconds),
        );
    }
}
