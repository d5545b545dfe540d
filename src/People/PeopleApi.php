<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Entity\AuditEntry;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Versions;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
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
        private Audit $audit,
        private UserPasswordHasherInterface $hasher,
    ) {
    }

    #[Route('/api/people', methods: ['GET'])]
    public function people(): JsonResponse
    {
        $people = $this->entities->getRepository(Person::class)->findBy(['removedAt' => null], ['name' => 'ASC']);

        return new JsonResponse(array_map(self::row(...), $people));
    }

    #[Route('/api/people', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function add(Request $request): JsonResponse
    {
        $input = Input::of($request)->onlyKnows(['name', 'email', 'role', 'password', 'rotaPlace']);
        $email = Addresses::checked('email', $input->line('email', 180, shortest: 3));
        if ($this->entities->getRepository(Person::class)->findOneBy(['email' => $email]) !== null) {
            throw Problem::field('email', "{$email} is taken");
        }
        $password = Passwords::checked('password', $input->secret('password', Passwords::LONGEST));
        $person = new Person($input->line('name', 120, shortest: 1), $email, $input->oneOf('role', Role::class));
        $person->passwordHash = $this->hasher->hashPassword($person, $password);
        $person->rotaPlace = $this->rotaPlace($input);
        $this->entities->persist($person);
        $this->audit->record('added', "person {$email}", null, ['name' => $person->name, 'role' => $person->role->value]);

        return new JsonResponse(SessionApi::shown($person), 201);
    }

    #[Route('/api/people/{id<\d{1,9}>}', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function change(int $id, Request $request, #[CurrentUser] Person $self): JsonResponse
    {
        $person = $this->find($id);
        $input = Input::of($request)->onlyKnows(['role', 'rotaPlace', 'barred', 'version']);
        $before = self::row($person);
        Versions::hold($input, $person->version, $before);
        $role = $input->oneOf('role', Role::class);
        $barred = $input->yes('barred', $person->barredAt !== null);
        if ($person->id === $self->id && ($role !== Role::Administrator || $barred)) {
            throw Problem::field(
                $barred ? 'barred' : 'role',
                'You cannot take the administrator role from yourself, or bar yourself; ask another administrator',
            );
        }
        $person->role = $role;
        $person->rotaPlace = $this->rotaPlace($input);
        $person->barredAt = $barred ? $person->barredAt ?? Clock::nowMs() : null;
        $this->entities->flush();
        $this->audit->record(
            $barred && !$before['barred'] ? 'barred' : 'changed',
            "person {$person->email}",
            $before,
            self::row($person),
        );

        return new JsonResponse(self::row($person));
    }

    /** What somebody did keeps the name; the address is free for somebody else. */
    #[Route('/api/people/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function remove(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $person = $this->find($id);
        if ($person->id === $self->id) {
            throw new Problem(409, 'You cannot remove yourself; ask another administrator');
        }
        $before = self::row($person);
        $person->removedAt = Clock::nowMs();
        $person->rotaPlace = null;
        $person->email = "removed {$person->id()} {$person->removedAt}";
        $this->audit->record('removed', "person {$before['email']}", $before, null);

        return new JsonResponse(null, 204);
    }

    /** Ends all sessions of somebody, wherever they are. */
    #[Route('/api/people/{id<\d{1,9}>}/end-sessions', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function endSessions(int $id): JsonResponse
    {
        $person = $this->find($id);
        $person->sessionsFrom = Clock::nowMs();
        $this->entities->flush();
        $this->audit->record('ended sessions of', "person {$person->email}", null, null);

        return new JsonResponse(self::row($person));
    }

    /** One's own; all other sessions of the same person are over with the old one. */
    #[Route('/api/session/password', methods: ['POST'])]
    #[AsAWhole]
    public function changePassword(Request $request, #[CurrentUser] Person $self): JsonResponse
    {
        $input = Input::of($request)->onlyKnows(['old', 'new']);
        $person = $this->find($self->id());
        if (!$this->hasher->isPasswordValid($person, $input->secret('old', Passwords::LONGEST))) {
            throw Problem::field('old', 'This is not the password you have now');
        }
        $person->passwordHash = $this->hasher->hashPassword(
            $person,
            Passwords::checked('new', $input->secret('new', Passwords::LONGEST)),
        );
        $this->audit->record('changed the password of', "person {$person->email}", null, null);

        return new JsonResponse(null, 204);
    }

    private function find(int $id): Person
    {
        $person = $this->entities->find(Person::class, $id);

        return $person !== null && $person->removedAt === null ? $person : throw new Problem(404, "There is no person {$id}");
    }

    /** @return array{id: int, name: string, email: string, role: string, rotaPlace: int|null, barred: bool, version: int} */
    private static function row(Person $person): array
    {
        return SessionApi::shown($person) + [
            'rotaPlace' => $person->rotaPlace,
            'barred' => $person->barredAt !== null,
            'version' => $person->version,
        ];
    }

    /** Null for people who take no shifts. */
    private function rotaPlace(Input $input): ?int
    {
        return $input->has('rotaPlace') ? $input->whole('rotaPlace', 1, 99) : null;
    }

    #[Route('/api/audit', methods: ['GET'])]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function audit(): JsonResponse
    {
        $names = array_column($this->entities->getConnection()->fetchAllAssociative('SELECT id, name FROM person'), 'name', 'id');
        $entries = $this->entities->getRepository(AuditEntry::class)->findBy([], ['id' => 'DESC'], self::AUDIT_ROWS);

        return new JsonResponse(
            array_map(
                static fn(AuditEntry $entry): array => [
                    'id' => $entry->id,
                    'at' => $entry->at,
                    'person' => $names[$entry->personId] ?? null,
                    'action' => $entry->action,
                    'subject' => $entry->subject,
                    'before' => $entry->before,
                    'after' => $entry->after,
                    'address' => $entry->address,
                ],
                $entries,
            ),
        );
    }
}
