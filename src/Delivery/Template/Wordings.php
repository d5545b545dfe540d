<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Template;

use Olivine\App\Delivery\Channel\Notice;
use Olivine\App\Delivery\Entity\TemplateRevision;
use Olivine\App\Delivery\MessageText;
use Olivine\App\Delivery\PlanInService;
use Olivine\App\Delivery\Repository\TemplateRepository;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\SetAside;

/**
 * How a message is worded: by the template of its channel for a team of whoever is told, else by that for everyone, else as it ships. One
 * that fails keeps nobody from being told: it is set aside, and said as it ships.
 */
final readonly class Wordings
{
    private const PART = 'templates';
    private const LONGEST_SUBJECT = 300;

    public function __construct(
        private TemplateRepository $templates,
        private TemplateSandbox $sandbox,
        private MessageValues $values,
        private PlanInService $plan,
        private SetAside $aside,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @param string $link where one answers; "" where it is not told there */
    public function of(string $way, Notice $notice, ?Person $person, Words $shipped, string $link = ''): Words
    {
        $template = $this->templateFor($way, $person);
        if ($template === null) {
            return $shipped;
        }
        $subject = "template of {$way}" . ($template->team === '' ? '' : " for {$template->team}");
        try {
            $own = $this->filled($template->subject, $template->text, $notice, $person, $shipped, $link);
            $this->aside->over(self::PART, $subject);

            return $own;
        } catch (BadTemplate $bad) {
            $this->aside->put(self::PART, $subject, "{$bad->getMessage()}; it is said as it ships", $this->clock->now());

            return $shipped;
        }
    }

    /** @throws BadTemplate */
    public function filled(string $subject, string $text, Notice $notice, ?Person $person, Words $shipped, string $link): Words
    {
        $values = $this->values->of($notice, $person, $shipped, $link);
        $title = OneLine::of($this->sandbox->filled($subject === '' ? '{{ subject }}' : $subject, $values));
        $own = $this->sandbox->filled($text === '' ? '{{ text }}' : $text, $values);
        if ($own === '') {
            throw BadTemplate::at(0, 'it says nothing');
        }

        return new Words(
            self::marked($notice, mb_substr($title === '' ? $shipped->subject : $title, 0, self::LONGEST_SUBJECT), '[rehearsal]'),
            self::marked($notice, $own, MessageText::REHEARSED),
        );
    }

    /** The template of the first of somebody's teams that has one. */
    private function templateFor(string $way, ?Person $person): ?TemplateRevision
    {
        $templates = array_column($this->templates->inService($way), null, 'team');
        if ($templates === [] || $person === null) {
            return $templates[''] ?? null;
        }
        foreach ($this->plan->plan()->definition->teams as $team) {
            if (isset($templates[$team->name]) && in_array($person->email, $team->people, true)) {
                return $templates[$team->name];
            }
        }

        return $templates[''] ?? null;
    }

    /** Whatever a template makes of it, a rehearsal says that it is one. */
    private static function marked(Notice $notice, string $words, string $mark): string
    {
        return $notice->incident->rehearsedWith === null || str_contains($words, 'rehearsal') ? $words : "{$mark} {$words}";
    }
}
