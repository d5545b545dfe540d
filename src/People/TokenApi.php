<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Answer\ShownToken;
use Olivine\App\People\Definition\TokenFields;
use Olivine\App\People\Entity\AccessToken;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\AccessTokenRepository;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Olivine\Core\Time\Duration;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Tokens for other programs. */
#[IsGranted('ROLE_VIEWER')]
final readonly class TokenApi
{
    private const MOST = 50;

    public function __construct(
        private EntityManagerInterface $entities,
        private AccessTokenRepository $tokens,
        private PersonRepository $people,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    #[Route('/api/tokens', methods: ['GET'])]
    public function tokens(#[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse(array_map($this->shown(...), $this->tokens->seenBy($self)));
    }

    /** @throws Problem 409 where there are too many; 422 naming the field */
    #[Route('/api/tokens', methods: ['POST'])]
    #[AsAWhole]
    public function make(#[Body] TokenFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $known = array_column(TokenScope::cases(), 'value');
        $unknown = array_values(array_diff($fields->scopes, $known));
        if ($unknown !== []) {
            throw Problem::field('scopes', 'scopes must be of ' . implode(', ', $known) . "; this is {$unknown[0]}");
        }
        if ($this->tokens->count(['personId' => $self->id()]) >= self::MOST) {
            throw new Problem(409, 'You have ' . self::MOST . ' tokens, as many as may be; end one first');
        }
        $secret = AccessTokens::PREFIX . bin2hex(random_bytes(20));
        $now = $this->clock->now();
        $ends = $now->plus(Duration::ofDays($fields->days));
        $token = new AccessToken($self->id(), $fields->name, AccessTokens::digest($secret), $fields->scopes, $now, $ends);
        $this->entities->persist($token);
        $this->entities->flush();
        $shown = $this->shown($token);
        $this->audit->record('made', "token {$token->name}", null, $shown);

        return new JsonResponse($this->shown($token, $secret), 201);
    }

    /** @throws Problem 404 */
    #[Route('/api/tokens/{id<\d{1,9}>}', methods: ['DELETE'])]
    #[AsAWhole]
    public function end(int $id, #[CurrentUser] Person $self): JsonResponse
    {
        $token = $this->tokens->of($id, $self);
        $before = $this->shown($token);
        $this->entities->remove($token);
        $this->entities->flush();
        $this->audit->record('ended', "token {$token->name}", $before, null);

        return new JsonResponse(null, 204);
    }

    private function shown(AccessToken $token, ?string $secret = null): ShownToken
    {
        return new ShownToken(
            $token->id(),
            $token->name,
            $this->people->names()[$token->personId] ?? '',
            $token->scopes,
            $token->madeAt,
            $token->endsAt,
            $token->usedAt,
            $secret,
        );
    }
}
