<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\Delivery\AlertEvents;
use Olivine\App\Delivery\Answer\ShownContact;
use Olivine\App\Delivery\Contacts;
use Olivine\App\Delivery\Definition\PathDefinition;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Roster\Answer\CoverageFault;
use Olivine\App\Rule\AlertStates;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\App\Rule\RuleDefinitions;
use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;

/** Where one thing that breaks is enough, and somebody does not hear. */
final readonly class WeakReach
{
    private const MOST_ALERTS = 200;

    public function __construct(
        private PersonRepository $people,
        private Contacts $contacts,
        private RuleRepository $rules,
        private RuleDefinitions $definitions,
        private AlertStates $alerts,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param list<int> $people who would hear of something
     *
     * @return list<CoverageFault> those who are reached by one way only, and nobody knows whether it works; and ways that failed last
     */
    public function ofPeople(array $people): array
    {
        $faults = [];
        foreach ($people as $id) {
            $person = $this->people->find($id);
            if ($person === null) {
                continue;
            }
            $contacts = $this->contacts->of($person);
            $unverified = array_values(array_filter($contacts, static fn(ShownContact $one): bool => $one->verifiedAt === null));
            if (count($unverified) === count($contacts)) {
                $junk = $unverified[0]->wasJunk ? ', and what came there lay among junk' : '';
                $words = "{$person->name} is reached by {$unverified[0]->way} only, which nobody verified{$junk}";
                $faults[] = self::weak($words, "{$person->name} verifies it, under My on-call");
            } elseif ($unverified !== []) {
                $faults[] = self::weak("{$person->name} has {$unverified[0]->way}, which nobody verified", "{$person->name} verifies it, under My on-call");
            }
            foreach ($contacts as $contact) {
                if ($contact->failedAt !== null) {
                    $faults[] = self::weak("What went to {$person->name} by {$contact->way} failed last: {$contact->failedWith}", 'See Delivery, Messages');
                }
            }
        }

        return $faults;
    }

    /** @return list<CoverageFault> rules of which all alerts come to everything else: nobody decided who hears of them */
    public function ofRules(Configuration $configuration): array
    {
        if (count($configuration->paths) === 1) {
            return [];
        }
        $names = [];
        foreach ($this->rules->findBy(['enabled' => true], ['name' => 'ASC']) as $rule) {
            $definition = $this->definitions->of($rule->inService);
            $labels = $this->alerts->labels($rule->id(), self::MOST_ALERTS);
            $now = $this->clock->now();
            $isOwned = array_any(
                $labels === [] ? [LabelSet::none()] : $labels,
                static fn(LabelSet $one): bool => array_any(
                    [Severity::Critical, Severity::Warning],
                    static fn(Severity $severity): bool => $configuration->answering(AlertEvents::about($definition, $one, $severity), $now)->name
                        !== PathDefinition::EVERYTHING_ELSE,
                ),
            );
            if (!$isOwned) {
                $names[] = $rule->name;
            }
        }
        $shown = implode(', ', array_slice($names, 0, 5)) . (count($names) > 5 ? sprintf(' and %d more', count($names) - 5) : '');

        return $names === [] ? [] : [self::weak(sprintf('%d rules reach only everything else: %s', count($names), $shown), 'Give them a path, under Delivery')];
    }

    private static function weak(string $words, string $remedy): CoverageFault
    {
        return new CoverageFault(FaultGrade::Weak, $words, $remedy, null, null, null, null, null);
    }
}
