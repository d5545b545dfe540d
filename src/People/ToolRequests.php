<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestMatcherInterface;

/** Other tools take readings out with a person's address and password in each request, instead of a session. */
final class ToolRequests implements RequestMatcherInterface
{
    public function matches(Request $request): bool
    {
        return $request->isMethodSafe()
            && preg_match('~^/api/(?:newest|export)$~D', $request->getPathInfo()) === 1
            && stripos((string) $request->headers->get('Authorization'), 'basic ') === 0;
    }
}
