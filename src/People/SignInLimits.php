<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\RateLimiter\AbstractRequestRateLimiter;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\RateLimiter\RateLimiterFactory;
use Symfony\Component\Security\Http\SecurityRequestAttributes;

/**
 * How often passwords may be tried: five times a minute for one person from one address, and from one address as often as
 * a whole office behind it may mistype, so that who tries many does not keep out those who know theirs. An address is
 * counted in the spelling that counts for signing in.
 */
final class SignInLimits extends AbstractRequestRateLimiter
{
    public function __construct(
        #[Autowire(service: 'limiter.sign_in_of_person')]
        private readonly RateLimiterFactory $ofPerson,
        #[Autowire(service: 'limiter.sign_in_from_address')]
        private readonly RateLimiterFactory $fromAddress,
    ) {
    }

    protected function getLimiters(Request $request): array
    {
        $name = $request->attributes->get(SecurityRequestAttributes::LAST_USERNAME, '');
        $person = hash('sha256', Addresses::one(is_string($name) ? mb_substr($name, 0, 1_000) : ''));
        $address = (string) $request->getClientIp();

        return [$this->ofPerson->create("{$person} {$address}"), $this->fromAddress->create($address)];
    }
}
