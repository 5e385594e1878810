import MarkdownIt from 'markdown-it';

/** Bold, lists and links; nothing else, and no HTML of anybody's. */
const marks = new MarkdownIt('zero', { breaks: true, linkify: true }).enable(['emphasis', 'list', 'link', 'linkify', 'newline', 'escape']);
marks.renderer.rules['link_open'] = (tokens, index, options, _env, self) => {
  tokens[index]?.attrSet('target', '_blank');
  tokens[index]?.attrSet('rel', 'noreferrer noopener');
  return self.renderToken(tokens, index, options);
};

/**
 * The HTML of what somebody wrote with simple marks (CommonMark's emphasis, lists and links, and bare addresses).
 * @example marksToHtml('**Bring** boots') // '<p><strong>Bring</strong> boots</p>\n'
 */
export const marksToHtml = (text: string): string => marks.render(text);
