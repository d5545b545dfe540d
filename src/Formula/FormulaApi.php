<?php

declare(strict_types=1);

namespace Olivine\App\Formula;

use Olivine\App\Formula\Answer\Edited;
use Olivine\App\Formula\Answer\FormulaFunction;
use Olivine\Core\Formula\Editing;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Functions;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Printer;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;

/** Formulas as such, without readings: what they may be written with, and changes made to them by choosing. */
#[IsGranted('ROLE_VIEWER')]
final readonly class FormulaApi
{
    public function __construct(private FormulaReader $reader)
    {
    }

    /** For completion and help. */
    #[Route('/api/formula/functions', methods: ['GET'])]
    public function functions(): JsonResponse
    {
        return new JsonResponse(
            array_map(
                static fn(string $name, array $about): FormulaFunction => new FormulaFunction(
                    name: $name,
                    example: $about[2],
                    help: $about[1],
                    usages: $about[0],
                ),
                array_keys(Functions::ALL),
                array_values(Functions::ALL),
            ),
        );
    }

    /**
     * As one would say it, with what hardly is meant in it.
     *
     * @throws FormulaError where the formula cannot be read
     */
    #[Route('/api/formula/said', methods: ['GET'])]
    public function said(Request $request): JsonResponse
    {
        return new JsonResponse($this->reader->read($request->query->getString('formula')));
    }

    /**
     * The formula with one value of a label only (metric, label, value), or with one line a label (per; empty: each series by itself).
     *
     * @throws FormulaError where the formula cannot be read or worked out
     */
    #[Route('/api/formula/edited', methods: ['GET'])]
    public function edited(Request $request): JsonResponse
    {
        $asked = $request->query;
        $formula = Parser::parse($asked->getString('formula'));
        if ($asked->has('label')) {
            $formula = Editing::only(
                $formula,
                $asked->getString('metric'),
                $asked->getString('label'),
                $asked->getString('value'),
            );
        }
        if ($asked->has('per')) {
            $formula = Editing::per($formula, $asked->getString('per') === '' ? null : $asked->getString('per'));
        }

        return new JsonResponse(new Edited(Printer::print($formula)));
    }
}
