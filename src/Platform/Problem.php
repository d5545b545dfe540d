<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Symfony\Component\HttpFoundation\JsonResponse;

/** An error the API answers with, as RFC 9457 problem details; `field` names the input that is wrong. */
final class Problem extends \RuntimeException
{
    /** @param array<string, mixed> $more */
    public function __construct(public readonly int $status, string $title, public readonly array $more = [])
    {
        parent::__construct($title);
    }

    public static function field(string $field, string $title): self
    {
        return new self(422, $title, ['field' => $field]);
    }

    /** @param array<string, mixed> $more */
    public static function response(int $status, string $title, array $more = []): JsonResponse
    {
        return new JsonResponse(['title' => $title, 'status' => $status] + $more, $status, [
            'Content-Type' => 'application/problem+json',
        ]);
    }
}
