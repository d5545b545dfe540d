import { toast } from 'sonner';

/** What did not work, with the reason as the server gave it. */
export const sayFailure = (error: unknown): void => {
  toast.error(error instanceof Error ? error.message : 'That did not work');
};
