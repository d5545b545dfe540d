<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Entity\AuditEntry;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Input;
use Olivine\App\Platform\Problem;
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

    public function __construct(private EntityManagerInterface $entities, private Audit $audit, private UserPasswordHasherInterface $hasher)
    {
    }

    #[Route('/api/people', methods: ['GET'])]
    public function people(): JsonResponse
    {
        $people = $this->entities->getRepository(Person::class)->findBy([], ['name' => 'ASC']);

        return new JsonResponse(array_map(static fn(Person $person): array => SessionApi::shown($person) + ['rotaPlace' => $person->rotaPlace], $people));
    }

    #[Route('/api/people', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ADMINISTRATOR')]
    public function add(Request $request): JsonResponse
    {
        $input = Input::of($request);
        $email = $input->text('email', 180, shortest: 3);
        if (filter_var($email, FILTER_VALIDATE_EMAIL) === false) {
            throw Problem::field('email', 'email must be an address such as ines@saltmarsh.example');
        }
        if ($this->entities->getRepository(Person::class)->findOneBy(['email' => $email]) !== null) {
            throw Problem::field('email', "{$email} is taken");
        }
        $password = $input->text('password', 200, shortest: 1);
        if (mb_strlen($password) < 12) {
            throw Problem::field('password', 'password needs at least 12 characters');
        }
        $person = new Person($input->text('name', 120, shortest: 1), $email, $input->oneOf('role', Role::class));
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
        $person = $this->entities->find(Person::class, $id) ?? throw new Problem(404, "There is no person {$id}");
        $input = Input::of($request);
        $role = $input->oneOf('role', Role::class);
        if ($person->id === $self->id && $role !== Role::Administrator) {
            throw Problem::field('role', 'You cannot take the administrator role from yourself; ask another administrator');
        }
        $before = ['role' => $person->role->value, 'rotaPlace' => $person->rotaPlace];
        $person->role = $role;
        $person->rotaPlace = $this->rotaPlace($input);
        $this->audit->record('changed', "person {$person->email}", $before, ['role' => $person->role->value, 'rotaPlace' => $person->rotaPlace]);

        return new JsonResponse(SessionApi::shown($person) + ['rotaPlace' => $person->rotaPlace]);
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

        return new JsonResponse(array_map(static fn(AuditEntry $entry): array => [
            'id' => $entry->id,
            'at' => $entry->at,
            'person' => $names[$entry->personId] ?? null,
            'action' => $entry->action,
            'subject' => $entry->subject,
            'before' => $entry->before,
            'after' => $entry->after,
            'address' => $entry->address,
        ], $entries));
    }
}
