<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Entity\Place;
use Olivine\App\Collect\Entity\StationToken;
use Olivine\App\Collect\Repository\PlaceRepository;
use Olivine\App\Collect\Repository\StationTokenRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\Request;

/** What stations show: once a token, to join, and from then on a key of their own. Neither is kept here, only what they hash to. */
final readonly class StationKeys
{
    public const TOKEN_PREFIX = 'olivine-station-';
    private const BYTES = 24;

    public function __construct(
        private Connection $connection,
        private PlaceRepository $places,
        private StationTokenRepository $tokens,
        private Clock $clock = new Clock(),
    ) {
    }

    public static function made(): string
    {
        return bin2hex(random_bytes(self::BYTES));
    }

    public static function digest(#[\SensitiveParameter] string $key): string
    {
        return hash('sha256', $key);
    }

    /** @throws Problem 401 where it is nobody's: the place was removed, or another station joined in its name */
    public function place(Request $request): Place
    {
        return $this->places->findOneBy(['keyDigest' => self::digest($this->shown($request))])
            ?? throw new Problem(401, 'This station is not known here, or no longer; let it join anew');
    }

    /**
     * Held until the transaction is over: stations that join at once do so one after the other, as each changes the checks asked from it.
     *
     * @throws Problem 401
     */
    public function token(#[\SensitiveParameter] string $token): StationToken
    {
        // The first thing that is read, so that what is read behind it is what the one before left.
        $this->connection->fetchOne('SELECT 1 FROM station_token WHERE digest = ? FOR UPDATE', [self::digest($token)]);

        return $this->tokens->ofDigest(self::digest($token), $this->clock->now())
            ?? throw new Problem(401, 'This token lets nobody join, or no longer; make another one under Fleet, Places');
    }

    /** @throws Problem 401 */
    private function shown(Request $request): string
    {
        $header = (string) $request->headers->get('Authorization');

        return preg_match('~^Bearer (\S{1,200})$~Di', $header, $found) === 1
            ? $found[1]
            : throw new Problem(401, 'A station shows its key (Authorization, Bearer)');
    }
}
