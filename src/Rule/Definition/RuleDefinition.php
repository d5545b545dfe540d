<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Labels;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\Texts;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\OtherLimits;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Time\Duration;

/** All that a person writes of a rule; a revision of the rule is one of these. */
final readonly class RuleDefinition implements \JsonSerializable
{
    public const LONGEST_NAME = 120;
    public const USUALLY_SEEN = 0.8;
    private const WEEK = 7 * 86_400;
    private const MONTH = 30 * 86_400;

    /**
     * @param string                  $name      a noun phrase: it begins the incident's title
     * @param string                  $service   groups its alerts into incidents; empty: the label service of each series
     * @param string                  $owner     the team whose rule it is
     * @param string                  $runbook   what to do, in words or as a web address
     * @param array<string, string>   $labels    laid over those of its alerts
     * @param list<string>            $dependsOn rules whose alerts explain this one's
     * @param float                   $seenShare the share of a window that must have been seen to judge by it, 0 to 1
     * @param list<OtherLimitsFields> $others    limits of their own for some of what it looks at
     * @param array<string, string>   $words     what its messages say beside, by severity
     */
    public function __construct(
        #[Line(self::LONGEST_NAME, 1)]
        public string $name,
        #[Text(8_000, 1)]
        public string $formula,
        public ConditionFields $condition,
        #[Whole(0, self::WEEK)]
        public int $holdSeconds = 0,
        #[Whole(0, self::WEEK)]
        public int $clearHoldSeconds = 0,
        #[Whole(60, self::WEEK)]
        public int $blindAfterSeconds = 600,
        public ?Severity $blindSeverity = null,
        #[Whole(120, self::MONTH)]
        public int $lostAfterSeconds = 259_200,
        #[Whole(15, 3_600)]
        public int $stepSeconds = 15,
        #[Line(120)]
        public string $service = '',
        #[Line(120)]
        public string $owner = '',
        #[Text(20_000)]
        public string $runbook = '',
        #[Labels]
        public array $labels = [],
        public ?TogetherFields $together = null,
        #[Names(self::LONGEST_NAME)]
        public array $dependsOn = [],
        #[Number(0.0, 1.0)]
        public float $seenShare = self::USUALLY_SEEN,
        #[ListOf(OtherLimitsFields::class, 0, 20)]
        public array $others = [],
        #[Texts(['critical', 'major', 'minor', 'warning'], 300)]
        public array $words = [],
    ) {
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        /** @var array<string, mixed> */
        return ['labels' => (object) $this->labels, 'words' => (object) $this->words] + get_object_vars($this);
    }

    public function withFormula(string $formula): self
    {
        return $this->with(formula: $formula);
    }

    /** The same with another condition and another hold. */
    public function raising(ConditionFields $condition, int $holdSeconds): self
    {
        return $this->with(condition: $condition, holdSeconds: $holdSeconds);
    }

    public function clearing(int $clearHoldSeconds): self
    {
        return $this->with(clearHoldSeconds: $clearHoldSeconds);
    }

    /**
     * As it works.
     *
     * @throws BadRule      naming the field that cannot be so
     * @throws FormulaError where the formula cannot be read
     */
    public function core(): Rule
    {
        $condition = $this->condition->core();

        return new Rule(
            Parser::parse($this->formula),
            $condition,
            $this->holding(),
            Duration::ofSeconds($this->stepSeconds),
            $this->together?->core(),
            $this->dependsOn,
            array_map(static fn(OtherLimitsFields $one): OtherLimits => $one->core(self::sideOf($condition)), $this->others),
            $this->seenShare,
        );
    }

    /** @throws BadRule */
    private static function sideOf(Condition $condition): Side
    {
        return $condition instanceof Limited ? $condition->limits()->side : throw new BadRule('others', 'need a rule with limits; this one has none');
    }

    /** @throws BadRule naming the field that cannot be so */
    public function holding(): Holding
    {
        return new Holding(
            Duration::ofSeconds($this->holdSeconds),
            Duration::ofSeconds($this->clearHoldSeconds),
            Duration::ofSeconds($this->blindAfterSeconds),
            $this->blindSeverity,
            Duration::ofSeconds($this->lostAfterSeconds),
        );
    }

    private function with(
        ?string $formula = null,
        ?ConditionFields $condition = null,
        ?int $holdSeconds = null,
        ?int $clearHoldSeconds = null,
    ): self {
        return new self(
            $this->name,
            $formula ?? $this->formula,
            $condition ?? $this->condition,
            $holdSeconds ?? $this->holdSeconds,
            $clearHoldSeconds ?? $this->clearHoldSeconds,
            $this->blindAfterSeconds,
            $this->blindSeverity,
            $this->lostAfterSeconds,
            $this->stepSeconds,
            $this->service,
            $this->owner,
            $this->runbook,
            $this->labels,
            $this->together,
            $this->dependsOn,
            $this->seenShare,
            $this->others,
            $this->words,
        );
    }
}
