<?php

declare(strict_types=1);

namespace Olivine\App\People;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Entity\Person;
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
    public function __construct(private readonly EntityManagerInterface $entities, private readonly UserPasswordHasherInterface $hasher, private readonly Audit $audit)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('email', InputArgument::REQUIRED)->addArgument('name', InputArgument::REQUIRED)->addArgument('role', InputArgument::REQUIRED, 'viewer, engineer or administrator')->addOption('turn', null, InputOption::VALUE_REQUIRED, 'Place in the rota, from 1');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $role = Role::tryFrom((string) $input->getArgument('role'));
        if ($role === null) {
            $output->writeln('The role must be viewer, engineer or administrator.');

            return Command::INVALID;
        }
        $password = (string) (new SymfonyStyle($input, $output))->askHidden('Password (at least 12 characters)');
        if (mb_strlen($password) < 12) {
            $output->writeln('The password needs at least 12 characters.');

            return Command::INVALID;
        }
        $email = (string) $input->getArgument('email');
        $person = $this->entities->getRepository(Person::class)->findOneBy(['email' => $email]) ?? new Person('', $email, $role);
        $person->name = (string) $input->getArgument('name');
        $person->role = $role;
        $turn = $input->getOption('turn');
        $person->rotaPlace = is_numeric($turn) ? max(1, (int) $turn) : $person->rotaPlace;
        $person->passwordHash = $this->hasher->hashPassword($person, $password);
        $this->entities->persist($person);
        $this->audit->record('set', "person {$email}", null, ['role' => $role->value]);
        $output->writeln("{$person->name} can sign in as {$email}.");

        return Command::SUCCESS;
    }
}
