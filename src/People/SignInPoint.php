<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\Problem;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Security\Core\Authentication\Token\TokenInterface;
use Symfony\Component\Security\Core\Exception\AuthenticationException;
use Symfony\Component\Security\Core\Exception\TooManyLoginAttemptsAuthenticationException;
use Symfony\Component\Security\Http\Authentication\AuthenticationFailureHandlerInterface;
use Symfony\Component\Security\Http\Authentication\AuthenticationSuccessHandlerInterface;
use Symfony\Component\Security\Http\EntryPoint\AuthenticationEntryPointInterface;
use Symfony\Component\Security\Http\Event\LoginFailureEvent;

/** What the API answers around signing in. */
final readonly class SignInPoint implements
    AuthenticationEntryPointInterface,
    AuthenticationSuccessHandlerInterface,
    AuthenticationFailureHandlerInterface
{
    private const TOOLS = 'tools';

    public function __construct(private Audit $audit)
    {
    }

    public function start(Request $request, ?AuthenticationException $authException = null): Response
    {
        return Problem::response(
            401,
            $request->headers->has('Authorization')
                ? 'Address or password is wrong, or was so too often; then wait a minute'
                : 'Sign in first',
        );
    }

    public function onAuthenticationSuccess(Request $request, TokenInterface $token): Response
    {
        $person = $token->getUser();
        \assert($person instanceof Person);
        $this->audit->record('signed in', "person {$person->email}", null, null);

        return new JsonResponse(SessionApi::shown($person));
    }

    public function onAuthenticationFailure(Request $request, AuthenticationException $exception): Response
    {
        if ($exception instanceof TooManyLoginAttemptsAuthenticationException) {
            return Problem::response(429, 'Too many attempts; wait a minute, then try again');
        }

        return Problem::response(
            401,
            $request->headers->has('Authorization') && (new TokenRequests())->matches($request)
                ? 'The token is none, or has ended; make another one under Setup'
                : 'Address or password is wrong',
        );
    }

    /** Another tool, which shows its address and password with each request, hears the same, and how to show them. */
    #[AsEventListener]
    public function onRefusedTool(LoginFailureEvent $event): void
    {
        if ($event->getFirewallName() === self::TOOLS) {
            $response = $this->onAuthenticationFailure($event->getRequest(), $event->getException());
            $response->headers->set('WWW-Authenticate', 'Basic realm="Olivine"');
            $event->setResponse($response);
        }
    }
}
