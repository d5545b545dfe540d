<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Template;

use Twig\Environment;
use Twig\Error\SyntaxError;
use Twig\Node\Expression\AbstractExpression;
use Twig\Node\Expression\ArrayExpression;
use Twig\Node\Expression\Binary;
use Twig\Node\Expression\ConstantExpression;
use Twig\Node\Expression\FilterExpression;
use Twig\Node\Expression\GetAttrExpression;
use Twig\Node\Expression\NameExpression;
use Twig\Node\Expression\Ternary\ConditionalTernary;
use Twig\Node\Expression\TestExpression;
use Twig\Node\Expression\Unary\AbstractUnary;
use Twig\Node\Expression\Variable\ContextVariable;
use Twig\Node\ForNode;
use Twig\Node\Node;
use Twig\NodeVisitor\NodeVisitorInterface;

/**
 * What a template of people may be made of: values, comparisons, sums and texts side by side, and loops two deep. Nothing that grows with
 * each turn, such as what is assigned, counted up to or searched for by a pattern; so whatever is written takes its moment and no more.
 */
final class TemplateNodes implements NodeVisitorInterface
{
    private const DEEPEST = 2;
    private const BEFORE_ALL_OTHERS = -1_000;
    private const EXPRESSIONS = [
        ArrayExpression::class, ConstantExpression::class, FilterExpression::class, GetAttrExpression::class, NameExpression::class,
        ConditionalTernary::class, TestExpression::class, AbstractUnary::class, ContextVariable::class,
        Binary\AddBinary::class, Binary\AndBinary::class, Binary\ConcatBinary::class, Binary\DivBinary::class, Binary\ElvisBinary::class,
        Binary\EndsWithBinary::class, Binary\EqualBinary::class, Binary\FloorDivBinary::class, Binary\GreaterBinary::class,
        Binary\GreaterEqualBinary::class, Binary\InBinary::class, Binary\LessBinary::class, Binary\LessEqualBinary::class, Binary\ModBinary::class,
        Binary\MulBinary::class, Binary\NotEqualBinary::class, Binary\NotInBinary::class, Binary\NullCoalesceBinary::class, Binary\OrBinary::class,
        Binary\StartsWithBinary::class, Binary\SubBinary::class, Binary\XorBinary::class,
    ];

    private int $loops = 0;

    /** @throws SyntaxError */
    public function enterNode(Node $node, Environment $env): Node
    {
        if ($node instanceof ForNode && ++$this->loops > self::DEEPEST) {
            throw new SyntaxError('Loops may be ' . self::DEEPEST . ' deep', $node->getTemplateLine());
        }
        $isKnown = !$node instanceof AbstractExpression || array_any(self::EXPRESSIONS, static fn(string $class): bool => $node instanceof $class);
        if (!$isKnown) {
            $what = preg_replace('~(Binary|Expression)$~', '', (string) strrchr('\\' . $node::class, '\\'));

            throw new SyntaxError('Nothing is assigned, counted or called here (' . strtolower(ltrim((string) $what, '\\')) . ')', $node->getTemplateLine());
        }

        return $node;
    }

    public function leaveNode(Node $node, Environment $env): Node
    {
        $this->loops -= $node instanceof ForNode ? 1 : 0;

        return $node;
    }

    public function getPriority(): int
    {
        return self::BEFORE_ALL_OTHERS;
    }
}
