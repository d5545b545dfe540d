<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Answer\AuditEntry as ShownEntry;
use Olivine\App\People\Answer\PersonRow;
use Olivine\App\People\Answer\TakenCards;
use Olivine\App\People\Definition\CardFields;
use Olivine\App\People\Definition\NewPassword;
use Olivine\App\People\Definition\NewPerson;
use Olivine\App\People\Definition\PersonFields;
use Olivine\App\People\Entity\AuditEntry;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\AuditRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Olivine\Core\Time\Instant;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** The people and what they changed. */
#[IsGranted('ROLE_VIEWER')]
final readonly class PeopleApi
{
    private const AUDIT_ROWS = 200;

    public function __construct(
        private EntityManagerInterface $entities,
        private PersonRepository $people,
        private AuditRepository $entries,
        private Audit $audit,
        private UserPasswordHasherInterface $hasher,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/people', methods: ['GET'])]
    public function people(): JsonResponse
    {
        return new JsonResponse(array_map(self::row(...), $this->people->byName()));
    }

    #[Route('/api/people', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function add(#[Body] NewPerson $fields): JsonResponse
    {
        $email = Addresses::checked('email', $fields->email);
        if ($this->people->atAddress($email) !== null) {
            throw Problem::field('email', "{$email} is taken");
        }
        $person = new Person($fields->name, $email, $fields->role);
        $person->passwordHash = $this->hasher->hashPassword($person, Passwords::checked('password', $fields->password));
        $this->entities->persist($person);
        $this->audit->record('added', "person {$email}", null, ['name' => $person->name, 'role' => $person->role->value]);

        return new JsonResponse(SessionApi::shown($person), 201);
    }

    #[Route('/api/people/cards', methods: ['GET'])]
    public function cards(): Response
    {
        return new Response(PersonCards::of($this->people->byName()), 200, ['Content-Type' => 'text/vcard; charset=utf-8']);
    }

    /** @throws Problem naming the field */
    #[Route('/api/people/cards', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function takeCards(#[Body] CardFields $fields): JsonResponse
    {
        $added = $known = $refused = [];
        foreach (PersonCards::read($fields->text) as [$name, $email]) {
            if (!Addresses::isOne($email)) {
                $refused[] = $email;
            } elseif ($this->people->atAddress($email) !== null) {
                $known[] = $email;
            } else {
                $this->entities->persist($person = new Person($name, $email, Role::Viewer));
                $this->audit->record('added', "person {$email}", null, ['name' => $name, 'role' => $person->role->value, 'from' => 'vCard']);
                $added[] = $name;
            }
        }

        return new JsonResponse(new TakenCards($added, $known, $refused));
    }

    #[Route('/api/people/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function change(int $id, #[Body] PersonFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $person = $this->people->there($id);
        $before = self::row($person);
        Versions::hold($fields->version, $person->version, $before);
        $barred = $fields->barred ?? $before->barred;
        if ($person->id === $self->id && ($fields->role !== Role::Administrator || $barred)) {
            throw Problem::field(
                $barred ? 'barred' : 'role',
                'You cannot take the administrator role from yourself, or bar yourself; ask another administrator',
            );
        }
        $person->role = $fields->role;
        $person->barredAt = $barred ? $person->barredAt ?? $this->clock->now() : null;
        $this->entities->flush();
        $shown = self::row($person);
        $this->audit->record($barred && !$before->barred ? 'barred' : 'changed', "person {$person->email}", $before, $shown);

        return new JsonResponse($shown);
    }

    /** What somebody did keeps the name; the address is free for somebody else. */
    #[Route('/api/people/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function remove(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $person = $this->people->there($id);
        if ($person->id === $self->id) {
            throw new Problem(409, 'You cannot remove yourself; ask another administrator');
        }
        $before = self::row($person);
        $person->removedAt = $this->clock->now();
        $person->email = "removed {$person->id()} {$person->removedAt->ms}";
        $this->audit->record('removed', "person {$before->email}", $before, null);

        return new JsonResponse(null, 204);
    }

    /** Ends all sessions of somebody, wherever they are. */
    #[Route('/api/people/{id<\d{1,9}>}/end-sessions', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function endSessions(int $id): JsonResponse
    {
        $person = $this->people->there($id);
        $person->sessionsFrom = $this->clock->now()->ms;
        $this->entities->flush();
        $this->audit->record('ended sessions of', "person {$person->email}", null, null);

        return new JsonResponse(self::row($person));
    }

    /** One's own; all other sessions of the same person are over with the old one. */
    #[Route('/api/session/password', methods: ['POST'])]
    #[AsAWhole]
    public function changePassword(#[Body] NewPassword $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $person = $this->people->there($self->id());
        if (!$this->hasher->isPasswordValid($person, $fields->old)) {
            throw Problem::field('old', 'This is not the password you have now');
        }
        $person->passwordHash = $this->hasher->hashPassword($person, Passwords::checked('new', $fields->new));
        $this->audit->record('changed the password of', "person {$person->email}", null, null);

        return new JsonResponse(null, 204);
    }

    #[Route('/api/audit', methods: ['GET'])]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function audit(Request $request): JsonResponse
    {
        $names = $this->people->names();
        $person = $request->query->has('person') ? $request->query->getInt('person') : null;
        $until = $request->query->has('until') ? Instant::ofMs($request->query->getInt('until')) : null;

        return new JsonResponse(
            array_map(
                static fn(AuditEntry $entry): ShownEntry => new ShownEntry(
                    id: (int) $entry->id,
                    action: $entry->action,
                    address: $entry->address,
                    after: $entry->after,
                    at: $entry->at,
                    before: $entry->before,
                    person: $names[$entry->personId] ?? null,
                    subject: $entry->subject,
                ),
                $this->entries->newest(self::AUDIT_ROWS, $person, $until),
            ),
        );
    }

    private static function row(Person $person): PersonRow
    {
        return new PersonRow(
            SessionApi::shown($person),
            barred: $person->barredAt !== null,
            version: $person->version,
        );
    }
}
