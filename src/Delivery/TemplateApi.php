<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\TemplateFields;
use Olivine\App\Delivery\Definition\TemplatePreviewFields;
use Olivine\App\Delivery\Definition\TemplateRemovalFields;
use Olivine\App\Delivery\Template\Templates;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\AsAWhole;
use Olivine\App\Platform\Definition\Body;
use Olivine\App\Platform\Problem;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** How channels word their messages. */
#[IsGranted('ROLE_VIEWER')]
final readonly class TemplateApi
{
    private const LONGEST_NAME = 80;

    public function __construct(private Templates $templates)
    {
    }

    #[Route('/api/templates', methods: ['GET'])]
    public function page(): JsonResponse
    {
        return new JsonResponse($this->templates->page());
    }

    #[Route('/api/templates/revisions', methods: ['GET'])]
    public function revisions(Request $request): JsonResponse
    {
        $asked = static fn(string $name): string => mb_substr($request->query->getString($name), 0, self::LONGEST_NAME);

        return new JsonResponse($this->templates->revisions($asked('way'), $asked('team')));
    }

    /** @throws Problem naming the field; 409 where it was written anew meanwhile */
    #[Route('/api/templates', methods: ['PUT'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function write(#[Body] TemplateFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->templates->write($fields, $self);

        return $this->page();
    }

    /** @throws Problem 404, 409 */
    #[Route('/api/templates/remove', methods: ['POST'])]
    #[AsAWhole]
    #[IsGranted('ROLE_ENGINEER')]
    public function remove(#[Body] TemplateRemovalFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        $this->templates->remove($fields, $self);

        return $this->page();
    }

    /** @throws Problem naming the field; 404 */
    #[Route('/api/templates/preview', methods: ['POST'])]
    public function preview(#[Body] TemplatePreviewFields $fields, #[CurrentUser] Person $self): JsonResponse
    {
        return new JsonResponse($this->templates->preview($fields, $self));
    }
}
