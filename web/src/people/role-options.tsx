/** What each role may do, in the words of a choice. */
export const RoleOptions = () => (
  <>
    <option value="viewer">viewer: reads</option>
    <option value="engineer">engineer: answers incidents, writes rules</option>
    <option value="administrator">administrator: also keeps the people</option>
  </>
);
