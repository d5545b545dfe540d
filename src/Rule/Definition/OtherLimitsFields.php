<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\ListOf;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Filter;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\OtherLimits;
use Olivine\Core\Rule\Side;

/** Limits of their own for some: `{"where": "tier = \"1\"", "limits": [{"severity": "major", "limit": 300}], "clear": 250}`. */
final readonly class OtherLimitsFields
{
    private const BEFORE = 'x where ';

    /**
     * @param string            $where   a filter, as it stands in a formula
     * @param list<LimitFields> $limits
     * @param float|null        $clearTo of a range its upper end
     */
    public function __construct(
        #[Text(500, 1)]
        public string $where,
        #[ListOf(LimitFields::class, 1, 4)]
        public array $limits,
        #[Number]
        public float $clear,
        #[Number]
        public ?float $clearTo = null,
    ) {
    }

    /** @throws BadRule naming the field that cannot be so */
    public function core(Side $side): OtherLimits
    {
        try {
            return new OtherLimits($this->filter(), new Limits($side, LimitFields::levels($this->limits), $this->clear, $this->clearTo ?? INF));
        } catch (BadRule $fault) {
            throw new BadRule('others', "where {$this->where}: {$fault->getMessage()}");
        }
    }

    /** @throws BadRule */
    private function filter(): Filter
    {
        try {
            $read = Parser::parse(self::BEFORE . $this->where);
        } catch (FormulaError $fault) {
            throw new BadRule('others', $fault->getMessage());
        }

        return $read instanceof Select && $read->where !== null
            ? $read->where
            : throw new BadRule('others', 'this is no filter; write one such as tier = "1"');
    }
}
