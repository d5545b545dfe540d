import { type NavigateOptions, useNavigate } from '@tanstack/react-router';
import { useCallback, useEffect, useRef } from 'react';

/** Goes elsewhere when something is done, unless whoever waited for it went elsewhere already. */
export function useFromHere(): (to: NavigateOptions) => void {
  const navigate = useNavigate();
  const isHere = useRef(true);
  useEffect(() => {
    isHere.current = true;
    return () => {
      isHere.current = false;
    };
  }, []);
  return useCallback(
    (to) => {
      if (isHere.current) void navigate(to);
    },
    [navigate],
  );
}
