<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Action;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\Answer\ShownAction;
use Olivine\App\Delivery\Channel\SignedAddresses;
use Olivine\App\Delivery\Definition\ActionFields;
use Olivine\App\Delivery\Entity\PreparedAction;
use Olivine\App\Delivery\MuteKeeping;
use Olivine\App\Delivery\Repository\ActionRepository;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Role;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;

/** The actions that are prepared: what they do, about what, and who may. */
final readonly class Actions
{
    private const MOST = 200;

    public function __construct(
        private EntityManagerInterface $entities,
        private ActionRepository $actions,
        private SignedAddresses $addresses,
        private Audit $audit,
    ) {
    }

    /**
     * @return array{PreparedAction, string|null} and its secret, where that was made up
     *
     * @throws Problem naming the field
     */
    public function add(ActionFields $fields, ?Person $by): array
    {
        if ($this->actions->count() >= self::MOST) {
            throw new Problem(409, 'There are ' . self::MOST . ' actions already, as many as may be; remove one first');
        }
        $this->check($fields, null);
        $secret = $fields->secret ?? bin2hex(random_bytes(24));
        $action = new PreparedAction(
            $fields->name,
            $fields->matching,
            $fields->words,
            $this->addresses->checked($fields->url),
            $fields->command,
            $this->addresses->sealed($secret),
            $fields->role,
        );
        $this->entities->persist($action);
        $this->entities->flush();
        $this->audit->record('added', "action {$action->name}", null, self::kept($action), $by);

        return [$action, $fields->secret === null ? $secret : null];
    }

    /** @throws Problem naming the field; 409 where it was changed meanwhile */
    public function change(PreparedAction $action, ActionFields $fields, ?Person $by): void
    {
        Versions::hold($fields->version, $action->version, self::shown($action, $by));
        $this->check($fields, $action);
        $before = self::kept($action);
        [$action->name, $action->words, $action->matching] = [$fields->name, $fields->words, $fields->matching];
        [$action->url, $action->command, $action->role] = [$this->addresses->checked($fields->url), $fields->command, $fields->role];
        if ($fields->secret !== null) {
            $action->secret = $this->addresses->sealed($fields->secret);
        }
        $this->entities->flush();
        $this->audit->record('changed', "action {$action->name}", $before, self::kept($action), $by);
    }

    public function remove(PreparedAction $action, Person $by): void
    {
        $before = self::kept($action);
        $this->entities->remove($action);
        $this->entities->flush();
        $this->audit->record('removed', "action {$before['name']}", $before, null, $by);
    }

    public static function may(PreparedAction $action, Person $person): bool
    {
        $isThere = $person->mayAct() && $person->role !== Role::Viewer;

        return $isThere && ($action->role !== Role::Administrator || $person->role === Role::Administrator);
    }

    public static function shown(PreparedAction $action, ?Person $self, ?string $secret = null): ShownAction
    {
        return new ShownAction(
            $action->id(),
            $action->name,
            $action->words,
            $action->matching,
            $self?->role === Role::Administrator ? $action->url : self::host($action->url),
            $action->command,
            $action->role,
            $self !== null && self::may($action, $self),
            $action->version,
            $secret,
        );
    }

    /** An address may hold a secret, so administrators alone see it whole. */
    private static function host(string $url): string
    {
        return (string) parse_url($url, PHP_URL_HOST);
    }

    /** @throws Problem */
    private function check(ActionFields $fields, ?PreparedAction $of): void
    {
        $other = $this->actions->named($fields->name);
        if ($other !== null && $other !== $of) {
            throw Problem::field('name', "There is an action named {$fields->name} already");
        }
        if ($fields->role === Role::Viewer) {
            throw Problem::field('role', 'role must be engineer or administrator; who only reads does nothing');
        }
        MuteKeeping::checkMatching($fields->matching);
        if ($fields->command !== '' && preg_match('~^[\w.-]+$~D', $fields->command) !== 1) {
            throw Problem::field('command', 'command must be the name under which the agent allows it, such as restart-consumers');
        }
    }

    /** @return array<string, string> without its secret */
    private static function kept(PreparedAction $action): array
    {
        return [
            'name' => $action->name,
            'words' => $action->words,
            'matching' => $action->matching,
            'url' => $action->url,
            'command' => $action->command,
            'role' => $action->role->value,
        ];
    }
}
