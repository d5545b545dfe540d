<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Answer\OwnContacts;
use Olivine\App\Delivery\Definition\CodeFields;
use Olivine\App\Delivery\Definition\ContactFields;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** How one is reached oneself. */
#[IsGranted('ROLE_VIEWER')]
final readonly class ContactApi
{
    public function __construct(private Contacts $contacts)
    {
    }

    #[Route('/api/session/contacts', methods: ['GET'])]
    public function contacts(#[CurrentUser] Person $self): JsonResponse
    {
        return $this->own($self);
    }

    /** @throws Problem 409; 422 naming the field */
    #[Route('/api/session/contacts', methods: ['POST'])]
    #[AsAWhole]
    public function add(#[Body] ContactFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->contacts->add($fields, $self);

        return $this->own($self, 201);
    }

    /** @throws Problem 404, 409 */
    #[Route('/api/session/contacts/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    public function remove(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->contacts->remove($id, $self);

        return new JsonResponse(null, 204);
    }

    /** @throws Problem 404, 429 */
    #[Route('/api/session/contacts/{id<\d{1,9}>}/code', methods: ['POST'])]
    #[AsAWhole]
    public function code(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $this->contacts->sendCodeTo($id, $self);

        return $this->own($self);
    }

    /** Where the code is wrong, that counts: it is kept, whatever is answered. */
    #[Route('/api/session/contacts/{id<\d{1,9}>}/verify', methods: ['POST'])]
    public function verify(int $id, #[Body] CodeFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->contacts->verify($id, $fields, $self);

        return $this->own($self);
    }

    private function own(Person $self, int $status = 200): JsonResponse
    {
        return new JsonResponse(new OwnContacts($this->contacts->of($self), $this->contacts->junkWords()), $status);
    }
}
