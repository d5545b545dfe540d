<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestMatcherInterface;

/** Other programs show a token with each request, instead of a session. */
final class TokenRequests implements RequestMatcherInterface
{
    public function matches(Request $request): bool
    {
        return stripos((string) $request->headers->get('Authorization'), 'bearer ') === 0;
    }
}
