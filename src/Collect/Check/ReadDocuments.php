<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Platform\OneLine;
use Olivine\Core\Check\Expect\DocumentKind;
use Olivine\Core\Check\Expect\DocumentPlace;
use Olivine\Core\Check\Expect\Documents;
use Olivine\Core\Check\Expect\NoDocument;
use Symfony\Component\JsonPath\Exception\ExceptionInterface;
use Symfony\Component\JsonPath\JsonCrawler;

/** JSON, XML and HTML of strangers: nothing is loaded from anywhere, and nothing in them is followed or run. */
final class ReadDocuments implements Documents
{
    private const DEEPEST = 128;
    private const MOST_FOUND = 200;

    /** @var array{string, mixed} the text read last, and what it is: a page is seldom asked for one place only */
    private array $json = ['', null];
    /** @var array{string, \DOMXPath|null} */
    private array $pages = ['', null];

    public function at(string $text, DocumentPlace $place): array
    {
        $found = match (true) {
            $place->kind === DocumentKind::Text => $place->foundIn($text),
            $place->kind !== DocumentKind::Json => $this->inPage($text, $place),
            $place->isPointer() => $place->pointedAt($this->json($text)),
            default => $this->inJson($text, $place),
        };

        return array_slice($found, 0, self::MOST_FOUND);
    }

    /** @throws NoDocument */
    private function json(string $text): mixed
    {
        if ($this->json[0] !== $text || $text === '') {
            try {
                $this->json = [$text, json_decode($text, true, self::DEEPEST, JSON_THROW_ON_ERROR | JSON_BIGINT_AS_STRING)];
            } catch (\JsonException $error) {
                throw new NoDocument("the answer is no JSON: {$error->getMessage()}");
            }
        }

        return $this->json[1];
    }

    /**
     * @return list<string|float|bool|null>
     *
     * @throws NoDocument
     */
    private function inJson(string $text, DocumentPlace $place): array
    {
        $this->json($text);
        try {
            $found = (new JsonCrawler($text))->find($place->path);
        } catch (ExceptionInterface $error) {
            throw new NoDocument("the place {$place->path} cannot be read: " . mb_substr(OneLine::of($error->getMessage()), 0, 200));
        }

        return array_map(
            static fn(mixed $one): string|float|bool|null => DocumentPlace::value($one, $place->path),
            array_values($found),
        );
    }

    /**
     * @return list<string|float|bool|null>
     *
     * @throws NoDocument
     */
    private function inPage(string $text, DocumentPlace $place): array
    {
        $key = "{$place->kind->value} {$text}";
        if ($this->pages[0] !== $key) {
            $this->pages = [$key, self::page($text, $place->kind)];
        }
        $path = $this->pages[1];
        if ($path === null) {
            throw new NoDocument('the answer is no XML');
        }
        $before = libxml_use_internal_errors(true);
        try {
            $found = @$path->evaluate($place->path);
        } finally {
            libxml_clear_errors();
            libxml_use_internal_errors($before);
        }

        return match (true) {
            $found instanceof \DOMNodeList => self::texts($found),
            is_bool($found) && $found === false && !str_contains($place->path, '(') => throw new NoDocument("the place {$place->path} cannot be read"),
            is_bool($found), is_string($found), is_float($found) => [$found],
            default => throw new NoDocument("the place {$place->path} cannot be read"),
        };
    }

    /**
     * @param \DOMNodeList<\DOMNode|\DOMNameSpaceNode> $nodes
     *
     * @return list<string>
     */
    private static function texts(\DOMNodeList $nodes): array
    {
        $texts = [];
        foreach ($nodes as $node) {
            $texts[] = trim((string) $node->nodeValue);
            if (count($texts) >= self::MOST_FOUND) {
                break;
            }
        }

        return $texts;
    }

    private static function page(string $text, DocumentKind $kind): ?\DOMXPath
    {
        $before = libxml_use_internal_errors(true);
        try {
            $document = new \DOMDocument();
            $document->resolveExternals = false;
            $document->substituteEntities = false;
            $quietly = LIBXML_NONET | LIBXML_NOERROR | LIBXML_NOWARNING | LIBXML_COMPACT;
            $isRead = $text !== '' && ($kind === DocumentKind::Xml
                ? $document->loadXML($text, $quietly)
                : $document->loadHTML('<?xml encoding="UTF-8">' . $text, $quietly));

            return $isRead ? new \DOMXPath($document) : null;
        } finally {
            libxml_clear_errors();
            libxml_use_internal_errors($before);
        }
    }
}
