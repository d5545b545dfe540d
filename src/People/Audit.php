<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Entity\AuditEntry;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;

/** Writes down each change, in the same flush as the change itself. */
final readonly class Audit
{
    public function __construct(
        private EntityManagerInterface $entities,
        private TokenStorageInterface $tokens,
        private RequestStack $requests,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param array<string, mixed>|object|null $before as anybody reads it
     * @param array<string, mixed>|object|null $after
     */
    public function record(
        string $action,
        string $subject,
        array|object|null $before,
        array|object|null $after,
        ?Person $by = null,
    ): void {
        $person = $by ?? $this->tokens->getToken()?->getUser();
        $this->entities->persist(
            new AuditEntry(
                $this->clock->now(),
                $person instanceof Person ? $person->id : null,
                $action,
                mb_substr($subject, 0, 120),
                self::plain($before),
                self::plain($after),
                $this->requests->getCurrentRequest()?->getClientIp() ?? 'command line',
            ),
        );
        $this->entities->flush();
    }

    /**
     * @param array<string, mixed>|object|null $shown
     *
     * @return array<string, mixed>|null
     */
    private static function plain(array|object|null $shown): ?array
    {
        if ($shown === null) {
            return null;
        }

        /** @var array<string, mixed> */
        return (array) json_decode(json_encode($shown, JSON_THROW_ON_ERROR), true, 16, JSON_THROW_ON_ERROR);
    }
}
