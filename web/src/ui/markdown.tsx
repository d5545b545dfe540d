import ReactMarkdown from 'react-markdown';

/** Text that a person wrote in Markdown; what would be HTML in it stays text. Pictures from elsewhere are not loaded. */
export default function Markdown({ text }: { text: string }) {
  return (
    <div className="space-y-2 break-words [&_a]:underline [&_code]:font-mono [&_code]:text-[13px] [&_ol]:list-decimal [&_ol]:pl-5 [&_ul]:list-disc [&_ul]:pl-5">
      <ReactMarkdown
        disallowedElements={['img']}
        components={{
          a: ({ href, children }) => (
            <a href={href} target="_blank" rel="noreferrer">
              {children}
            </a>
          ),
        }}
      >
        {text}
      </ReactMarkdown>
    </div>
  );
}
