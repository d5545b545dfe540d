<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Entity\Person;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Console\Style\SymfonyStyle;
use Symfony\Component\PasswordHasher\Hasher\UserPasswordHasherInterface;

#[AsCommand('olivine:person', 'Adds a person, or gives one a new password')]
final class PersonCommand extends Command
{
    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly UserPasswordHasherInterface $hasher,
        private readonly Audit $audit,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('email', InputArgument::REQUIRED, 'Address to sign in with, and where messages go')
            ->addArgument('name', InputArgument::REQUIRED)
            ->addArgument('role', InputArgument::REQUIRED, 'viewer, engineer or administrator')
            ->addOption(
                'new-password',
                null,
                InputOption::VALUE_NONE,
                'Give somebody who is there already a new password, name and role',
            );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $email = Addresses::one(Scalar::text($input->getArgument('email')));
        $name = trim(Scalar::text($input->getArgument('name')));
        $role = Role::tryFrom(Scalar::text($input->getArgument('role')));
        $fault = match (true) {
            !Addresses::isOne($email) => "{$email} is no address that mail can be sent to; give one such as " .
                Addresses::EXAMPLE,
            $name === '' || mb_strlen($name) > 120 || !OneLine::isOne($name)
                => 'The name must be one line of at most 120 characters.',
            $role === null => 'The role must be viewer, engineer or administrator.',
            default => null,
        };
        $person = $fault === null ? $this->entities->getRepository(Person::class)->findOneBy(['email' => $email]) : null;
        if ($person !== null && $input->getOption('new-password') !== true) {
            $fault =
                "{$person->name} is there already as {$email} ({$person->role->value}). With --new-password they get a new password, " .
                'and the name and role given here.';
        }
        if ($fault !== null || $role === null) {
            $output->writeln($fault, OutputInterface::OUTPUT_RAW);

            return Command::INVALID;
        }
        $password = Scalar::text((new SymfonyStyle($input, $output))->askHidden('Password (at least 12 characters)'));
        if (!Passwords::isLongEnough($password)) {
            $output->writeln('The password needs at least 12 characters.');

            return Command::INVALID;
        }
        $isNew = $person === null;
        $person ??= new Person('', $email, $role);
        $person->name = $name;
        $person->role = $role;
        $person->barredAt = null;
        $person->passwordHash = $this->hasher->hashPassword($person, $password);
        $this->entities->persist($person);
        $this->audit->record($isNew ? 'added' : 'set', "person {$email}", null, ['role' => $role->value]);
        $output->writeln(
            "{$person->name} can sign in as {$email}" . ($isNew ? '.' : ', with the new password.'),
            OutputInterface::OUTPUT_RAW,
        );

        return Command::SUCCESS;
    }
}
