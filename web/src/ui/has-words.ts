/** Whether a text has every word that was typed, anywhere and in any case; nothing typed finds all. */
export const hasWords = (typed: string): ((text: string) => boolean) => {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return (text) => {
    const lower = text.toLowerCase();
    return words.every((word) => lower.includes(word));
  };
};
