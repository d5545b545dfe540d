<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Template;

use Twig\Environment;
use Twig\Error\Error;
use Twig\Extension\SandboxExtension;
use Twig\Loader\ArrayLoader;
use Twig\Sandbox\SecurityPolicy;

/** Fills in what people wrote: Twig without anything that reads, runs, includes or grows. Values are texts, numbers and lists of them. */
final class TemplateSandbox
{
    public const LONGEST_SOURCE = 4_000;
    private const LONGEST_TEXT = 20_000;
    private const A_LIST = 'a list stands where a text or a number should';
    private const TAGS = ['if', 'for'];
    private const TESTS = ['defined', 'divisible by', 'empty', 'even', 'null', 'odd', 'same as'];
    private const FILTERS = ['capitalize', 'default', 'first', 'join', 'last', 'length', 'lower', 'round', 'slice', 'title', 'trim', 'upper'];

    /**
     * @param array<string, mixed> $values
     *
     * @throws BadTemplate where it cannot be read, or asks for what is not there
     */
    public function filled(string $source, array $values): string
    {
        // What is no more than a warning elsewhere, such as a list where a text should be, is a fault of the template.
        set_error_handler(static fn(int $level, string $words): never => throw new \ErrorException($words));
        try {
            // One of its own each time: after a fault nothing of it stays behind.
            $text = '';
            foreach (self::twig()->createTemplate($source)->stream($values) as $piece) {
                $text .= is_scalar($piece) || $piece instanceof \Stringable ? (string) $piece : '';
                if (strlen($text) > self::LONGEST_TEXT) {
                    throw BadTemplate::at(0, sprintf('it says more than %d letters', self::LONGEST_TEXT));
                }
            }
        } catch (Error $error) {
            $isOfValues = $error->getPrevious() instanceof \ErrorException || $error->getPrevious() instanceof \TypeError;
            throw BadTemplate::at($error->getTemplateLine(), $isOfValues ? self::A_LIST : $error->getRawMessage());
        } catch (\ArithmeticError $error) {
            throw BadTemplate::at(0, $error->getMessage());
        } catch (\ErrorException|\TypeError) {
            throw BadTemplate::at(0, self::A_LIST);
        } finally {
            restore_error_handler();
        }

        return trim(mb_scrub($text));
    }

    private static function twig(): Environment
    {
        $twig = new Environment(new ArrayLoader(), ['strict_variables' => true, 'autoescape' => false, 'cache' => false]);
        $policy = new SecurityPolicy(self::TAGS, self::FILTERS, allowedTests: self::TESTS);
        $policy->setStrict(true);
        $twig->addExtension(new SandboxExtension($policy, true));
        $twig->addNodeVisitor(new TemplateNodes());

        return $twig;
    }
}
