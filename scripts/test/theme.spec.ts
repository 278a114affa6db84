import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import less from 'less';

const theme = join(__dirname, '../../apps/web/src/styles/zorro.less');

it('draws the components of NG-ZORRO with our tokens, and with no colour of the package’s own', async () => {
  const { css } = await less.render(readFileSync(theme, 'utf8'), { filename: theme, math: 'always', javascriptEnabled: true });
  const ours = /(^|[\s,])\.ant-(select|modal|drawer|checkbox|input-number|tabs|slider|tooltip)\b/;
  // Named colours of tips, which nothing of ours asks for.
  const named =
    /ant-tooltip-(pink|magenta|red|volcano|orange|yellow|gold|cyan|lime|green|blue|geekblue|purple)|ant-select-customize-input/;
  const plain: string[] = [];
  let themed = 0;
  for (const [, selector = '', body = ''] of css.matchAll(/([^{}]+)\{([^{}]*)\}/g)) {
    if (!ours.test(selector) || named.test(selector)) continue;
    if (body.includes('var(--')) themed += 1;
    for (const line of body.split(';'))
      // A shade of nothing but black, where tabs are scrolled, is the same on every paper.
      if (/#[0-9a-f]{3,8}\b|rgba?\(|hsla?\(/i.test(line) && !/rgba\(0, 0, 0, [\d.]+\)/.test(line))
        plain.push(`${selector.trim()} { ${line.trim()} }`);
  }
  expect(plain).toEqual([]);
  expect(themed).toBeGreaterThan(100);
});
