<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Template;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Answer\PreviewedTemplate;
use Olivine\App\Delivery\Answer\ShownTemplate;
use Olivine\App\Delivery\Answer\TemplatesPage;
use Olivine\App\Delivery\Answer\TemplateWay;
use Olivine\App\Delivery\Channel\ChannelKind;
use Olivine\App\Delivery\Channel\MailChannel;
use Olivine\App\Delivery\Channel\Notice;
use Olivine\App\Delivery\Definition\TemplateFields;
use Olivine\App\Delivery\Definition\TemplatePreviewFields;
use Olivine\App\Delivery\Definition\TemplateRemovalFields;
use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\TemplateRevision;
use Olivine\App\Delivery\MessageText;
use Olivine\App\Delivery\Notices;
use Olivine\App\Delivery\PlanInService;
use Olivine\App\Delivery\Repository\IncidentRepository;
use Olivine\App\Delivery\Repository\KeptChannelRepository;
use Olivine\App\Delivery\Repository\TemplateRepository;
use Olivine\App\Delivery\ToldAlert;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Delivery\Reply;
use Olivine\Core\Delivery\ShortMessage;
use Olivine\Core\Rule\Severity;

/** The templates of people: written, tried on an incident that there was, and taken back. */
final readonly class Templates
{
    private const MOST_PARTS = 2;
    private const MOST_REVISIONS = 50;
    private const A_CODE = 'k7q';

    public function __construct(
        private EntityManagerInterface $entities,
        private TemplateRepository $templates,
        private KeptChannelRepository $channels,
        private IncidentRepository $incidents,
        private PlanInService $plan,
        private Notices $notices,
        private MessageText $message,
        private Wordings $wordings,
        private PersonRepository $people,
        private Settings $settings,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    public function page(): TemplatesPage
    {
        $ways = [new TemplateWay(MailChannel::NAME, MailChannel::NAME, true)];
        foreach ($this->channels->findBy([], ['name' => 'ASC']) as $channel) {
            if ($channel->kind !== ChannelKind::Webhook) {
                $ways[] = new TemplateWay($channel->name, $channel->kind->value, !$channel->kind->isByNumber());
            }
        }
        $teams = array_map(static fn(object $team): string => $team->name, $this->plan->plan()->definition->teams);
        $inService = array_map($this->shown(...), $this->templates->inService());
        $words = match (count($inService)) {
            0 => 'Every message is worded as it ships.',
            1 => 'One template words what its channel says; all else is said as it ships.',
            default => count($inService) . ' templates word what their channels say; all else is said as it ships.',
        };

        return new TemplatesPage($words, $ways, array_values($teams), $inService, MessageValues::MEANING);
    }

    /** @return list<ShownTemplate> the newest first */
    public function revisions(string $way, string $team): array
    {
        return array_map($this->shown(...), $this->templates->revisions($way, $team, self::MOST_REVISIONS));
    }

    /** @throws Problem naming the field; 409 where it was written anew meanwhile */
    public function write(TemplateFields $fields, ?Person $author): void
    {
        $this->kindOf($fields->way);
        $this->refuseUnknownTeam($fields->team);
        $this->checkWords($fields);
        $this->keep($fields->way, $fields->team, $fields->number, $fields->subject, $fields->text, false, $author);
    }

    /**
     * Whether it can be filled in whatever is told.
     *
     * @throws Problem naming the field
     */
    public function checkWords(TemplateFields $fields): void
    {
        $kind = $this->channels->named($fields->way)?->kind;
        foreach (['subject' => [$fields->subject, ''], 'text' => ['', $fields->text]] as $field => [$subject, $text]) {
            foreach ($this->samples() as $notice) {
                try {
                    $this->wordings->filled($subject, $text, $notice, null, $this->message->shipped($kind, $notice), '');
                } catch (BadTemplate $bad) {
                    throw Problem::field($field, "{$field}: {$bad->getMessage()}");
                }
            }
        }
    }

    /** @throws Problem 404 where there is none; 409 where it was written anew meanwhile */
    public function remove(TemplateRemovalFields $fields, ?Person $author): void
    {
        $last = $this->templates->revisions($fields->way, $fields->team, 1)[0] ?? null;
        if ($last === null || $last->removed) {
            throw new Problem(404, "There is no template of {$fields->way} for " . ($fields->team === '' ? 'everyone' : $fields->team));
        }
        $this->keep($fields->way, $fields->team, $fields->number, $last->subject, $last->text, true, $author);
    }

    /** @throws Problem naming the field; 404 where there is no such incident */
    public function preview(TemplatePreviewFields $fields, Person $self): PreviewedTemplate
    {
        $kind = $this->kindOf($fields->way);
        $incident = $fields->incident === null ? $this->incidents->searched('', null, null, 1)[0] ?? null : $this->incidents->there($fields->incident);
        $notice = $incident === null ? $this->samples()[0] : $this->notices->of($incident, $fields->kind, 'looked at', $this->clock->now());
        $link = $notice->isAnswered() ? "{$this->settings->publicUrl()}/act/…" : '';
        $shipped = $this->message->shipped($kind, $notice, $link === '' ? null : $link);
        $fault = null;
        try {
            $words = $this->wordings->filled($fields->subject, $fields->text, $notice, $self, $shipped, $link);
        } catch (BadTemplate $bad) {
            [$words, $fault] = [$shipped, $bad->getMessage()];
        }
        $of = $incident === null ? 'a made-up incident' : "incident {$incident->id()}: {$incident->title}";
        if ($kind !== ChannelKind::Sms) {
            return new PreviewedTemplate($of, $words->subject, $words->text, $fault, null, null);
        }
        $end = $notice->isAnswered() ? ' ' . Reply::words(self::A_CODE) : '';
        $whole = ShortMessage::of($words->text . $end);
        $sent = ShortMessage::within($words->text, $end, self::MOST_PARTS);

        return new PreviewedTemplate($of, '', $sent->text, $fault, $sent->parts, self::length($whole));
    }

    private static function length(ShortMessage $whole): string
    {
        $alphabet = $whole->isPlain ? 'of the plain alphabet' : 'of 16 bits, as some letter is none of the plain alphabet';
        $parts = $whole->parts === 1 ? 'one part' : "{$whole->parts} parts";
        $cut = $whole->parts > self::MOST_PARTS ? '; what is past two is cut, never the answer' : '';

        return "{$whole->units} places {$alphabet}: {$parts}{$cut}";
    }

    private function shown(TemplateRevision $one): ShownTemplate
    {
        $author = $one->authorId === null ? '' : $this->people->names()[$one->authorId] ?? '';

        return new ShownTemplate($one->way, $one->team, $one->number, $one->subject, $one->text, $one->removed, $author, $one->at);
    }

    /** @throws Problem 409 */
    private function keep(string $way, string $team, int $read, string $subject, string $text, bool $removed, ?Person $author): void
    {
        $last = $this->templates->revisions($way, $team, 1)[0] ?? null;
        $isThere = $last !== null && !$last->removed;
        if ($read !== ($isThere ? $last->number : 0)) {
            $by = $last === null ? '' : ' by ' . ($this->people->names()[$last->authorId] ?? 'somebody');

            throw new Problem(409, "The template was written anew{$by} meanwhile; look at that first", ['now' => $isThere ? $this->shown($last) : null]);
        }
        $next = new TemplateRevision($way, $team, ($last->number ?? 0) + 1, $subject, $text, $removed, $author?->id, $this->clock->now());
        $this->entities->persist($next);
        $this->entities->flush();
        $name = "template of {$way}" . ($team === '' ? '' : " for {$team}");
        $before = $isThere ? ['subject' => $last->subject, 'text' => $last->text] : null;
        $this->audit->record($removed ? 'removed' : 'wrote', $name, $before, $removed ? null : ['subject' => $subject, 'text' => $text], $author);
    }

    /**
     * @return ChannelKind|null null: mail
     *
     * @throws Problem
     */
    private function kindOf(string $way): ?ChannelKind
    {
        $channel = $way === MailChannel::NAME ? null : $this->channels->named($way);
        if ($channel === null && $way !== MailChannel::NAME) {
            throw Problem::field('way', "way: there is no channel {$way}");
        }
        if ($channel?->kind === ChannelKind::Webhook) {
            throw Problem::field('way', 'way: what a webhook says is read by programs; it has no template');
        }

        return $channel?->kind;
    }

    /** @throws Problem */
    private function refuseUnknownTeam(string $team): void
    {
        $teams = array_map(static fn(object $one): string => $one->name, $this->plan->plan()->definition->teams);
        if ($team !== '' && !in_array($team, $teams, true)) {
            throw Problem::field('team', "team: there is no team {$team}; there are " . implode(', ', $teams));
        }
    }

    /** @return non-empty-list<Notice> of which each template must be able to tell: one that is raised, two at once, nothing known of it, the end */
    private function samples(): array
    {
        $now = $this->clock->now();
        $incident = new Incident('boarding', 'broker-north', 'Boarding queue on broker-north stands at 1,284', Severity::Critical, $now, false);
        $name = 'Boarding queue on broker-north';
        $alert = new ToldAlert($name, 'critical', '1,284', 'limit above 1,200', '03:12', null, 'Look at the consumers', '', 'mean 812');
        $ended = new ToldAlert($name, 'critical', '12', 'limit above 1,200', '03:12', 'cleared', '', '');

        return [
            new Notice($incident, MessageKind::Raised, 'sample', [$alert], 0, null, $now),
            new Notice($incident, MessageKind::Worse, 'sample', [$alert, $alert], 3, null, $now),
            new Notice($incident, MessageKind::Raised, 'sample', [], 0, null, $now),
            new Notice($incident, MessageKind::Recovered, 'sample', [$ended], 0, null, $now),
        ];
    }
}
