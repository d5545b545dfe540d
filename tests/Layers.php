<?php

declare(strict_types=1);

namespace Olivine\Tests;

use PHPat\Selector\Selector;
use PHPat\Test\Attributes\TestRule;
use PHPat\Test\Builder\Rule;
use PHPat\Test\PHPat;

/** The house: arrows point down only. Checked by PHPStan. */
final class Layers
{
    #[TestRule]
    public function coreKnowsNothingAboveIt(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Olivine\Core'))
            ->shouldNotDependOn()
            ->classes(
                Selector::inNamespace('Olivine\App'),
                Selector::inNamespace('Olivine\Agent'),
                Selector::inNamespace('Olivine\Server'),
                Selector::inNamespace('Olivine\Standin'),
                Selector::inNamespace('Symfony'),
                Selector::inNamespace('Doctrine'),
                Selector::inNamespace('React'),
            )
            ->because('the rules of the job stand alone');
    }

    #[TestRule]
    public function seriesIsTheGroundFloorOfCore(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Olivine\Core\Series'))
            ->shouldNotDependOn()
            ->classes(
                Selector::inNamespace('Olivine\Core\Formula'),
                Selector::inNamespace('Olivine\Core\Rule'),
                Selector::inNamespace('Olivine\Core\Exposition'),
                Selector::inNamespace('Olivine\Core\Delivery'),
            )
            ->because('readings do not know what is made of them');
    }

    #[TestRule]
    public function formulasDoNotKnowRules(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Olivine\Core\Formula'))
            ->shouldNotDependOn()
            ->classes(
                Selector::inNamespace('Olivine\Core\Rule'),
                Selector::inNamespace('Olivine\Core\Delivery'),
                Selector::inNamespace('Olivine\Core\Roster'),
            )
            ->because('rules stand on formulas, not the other way round');
    }

    #[TestRule]
    public function whatAnswersRequestsAsksClassesThatAreNamedAfterWhatTheyKeep(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::AllOf(Selector::inNamespace('Olivine\App'), Selector::classname('~Api$~', true)))
            ->shouldNotDependOn()
            ->classes(
                Selector::inNamespace('Doctrine\DBAL'),
                Selector::classname(\Olivine\App\Platform\Database::class),
            )
            ->because('no SQL stands in an API class');
    }

    #[TestRule]
    public function definitionsAndAnswersAreValues(): Rule
    {
        return PHPat::rule()
            ->classes(
                Selector::AllOf(Selector::inNamespace('Olivine\App'), Selector::inNamespace('~\\\\Answer$~', true)),
            )
            ->shouldBeReadonly()
            ->because('what goes over a border does not change on its way');
    }

    #[TestRule]
    public function theApplicationNeverImportsStandins(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Olivine\App'))
            ->shouldNotDependOn()
            ->classes(Selector::inNamespace('Olivine\Standin'), Selector::inNamespace('Olivine\Tests'))
            ->because('the real thing takes their place by configuration');
    }

    #[TestRule]
    public function standinsKnowNothingOfTheApplication(): Rule
    {
        return PHPat::rule()
            ->classes(Selector::inNamespace('Olivine\Standin'))
            ->shouldNotDependOn()
            ->classes(Selector::inNamespace('Olivine\App'), Selector::inNamespace('Olivine\Core'))
            ->because('they speak the protocols only');
    }
}
