<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\DBAL\Connection;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Scalar;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\HttpKernel\Event\ControllerEvent;
use Symfony\Component\Security\Core\Exception\BadCredentialsException;
use Symfony\Component\Security\Http\AccessToken\AccessTokenHandlerInterface;
use Symfony\Component\Security\Http\Authenticator\Passport\Badge\UserBadge;

/** Whose a shown token is, asked with each request: one that ended, or whose person was barred, is nobody's. */
final readonly class AccessTokens implements AccessTokenHandlerInterface
{
    public const PREFIX = 'olivine_';
    private const SCOPES = 'olivine.token.scopes';
    private const USED_EVERY_MS = 60_000;

    public function __construct(
        private Connection $connection,
        private RequestStack $requests,
        private PeopleProvider $people,
        private Clock $clock = new Clock(),
    ) {
    }

    public function getUserBadgeFrom(#[\SensitiveParameter] string $accessToken): UserBadge
    {
        $now = $this->clock->now()->ms;
        $row = $this->connection->fetchAssociative(
            'SELECT t.id, t.scopes, t.used_at, p.email FROM access_token t JOIN person p ON p.id = t.person_id WHERE t.digest = ? AND t.ends_at > ?',
            [self::digest($accessToken), $now],
        );
        if ($row === false) {
            throw new BadCredentialsException();
        }
        if ($row['used_at'] === null || $now - Scalar::int($row['used_at']) > self::USED_EVERY_MS) {
            $this->connection->executeStatement('UPDATE access_token SET used_at = ? WHERE id = ?', [$now, $row['id']]);
        }
        $scopes = json_decode(Scalar::text($row['scopes']), true, 4, JSON_THROW_ON_ERROR);
        $this->requests->getCurrentRequest()?->attributes->set(self::SCOPES, is_array($scopes) ? $scopes : []);

        return new UserBadge(Scalar::text($row['email']), fn(string $email): Person => $this->people->loadUserByIdentifier($email));
    }

    public static function digest(#[\SensitiveParameter] string $token): string
    {
        return hash('sha256', $token);
    }

    /**
     * A token changes what it is for, and nothing else; one for handing readings in does not even read.
     *
     * @throws Problem 403
     */
    #[AsEventListener(priority: 10)]
    public function hold(ControllerEvent $event): void
    {
        $request = $event->getRequest();
        $scopes = $request->attributes->get(self::SCOPES);
        if (!is_array($scopes)) {
            return;
        }
        $isFor = array_values(array_filter(TokenScope::cases(), static fn(TokenScope $scope): bool => in_array($scope->value, $scopes, true)));
        $path = $request->getPathInfo();
        if ($request->isMethodSafe()) {
            $isFor !== [TokenScope::Readings] || throw new Problem(403, 'This token hands readings in; it may not read');

            return;
        }
        if (!array_any($isFor, static fn(TokenScope $scope): bool => $scope->covers($path))) {
            $areas = implode(', ', array_map(static fn(TokenScope $scope): string => $scope->value, $isFor));
            throw new Problem(403, 'This token may not change that; ' . ($areas === '' ? 'it only reads' : "it is for {$areas}"));
        }
    }
}
