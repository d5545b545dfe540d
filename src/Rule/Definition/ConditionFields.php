<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition;
use Symfony\Component\Serializer\Attribute\DiscriminatorMap;

/** What makes a rule raise, as a person writes it; which fields there are depends on its kind. */
#[DiscriminatorMap('kind', [
    'threshold' => ThresholdFields::class,
    'departure' => DepartureFields::class,
    'forecast' => ForecastFields::class,
    'change' => ChangeFields::class,
    'absence' => AbsenceFields::class,
])]
interface ConditionFields
{
    /** @throws BadRule naming the field that cannot be so */
    public function core(): Condition;
}
