import { View } from 'react-native';
import { messageOf } from '../data/api';
import { useTemplates } from '../data/templates';
import { PageFrame } from '../kit/PageFrame';
import { Empty, LinkRow, Section, Skeleton, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

const people = (n: number) => (n === 1 ? 'One person follows it' : `${n} people follow it`);

/** All templates, with how many follow each and how many have departed from it. */
export function TemplatesScreen() {
  const templates = useTemplates();
  return (
    <PageFrame title="Templates" term="template" back={{ path: '/people', label: 'Back to People' }}>
      <Section>
        <Words tone="soft">
          A plan to start people from. In it stand “mobile” or “desk phone” for what each has of their own.
        </Words>
      </Section>
      {templates.isError ? (
        <Trouble message={messageOf(templates.error)} retry={() => void templates.refetch()} />
      ) : templates.isPending ? (
        <Skeleton />
      ) : templates.data.templates.length === 0 ? (
        <Empty
          title="No templates yet"
          text="Open a person whose plan is right, and save it as a template from there: Reach plan, then Template."
        />
      ) : (
        <View>
          {templates.data.templates.map((template) => (
            <LinkRow
              key={template.id}
              title={template.name}
              text={`${people(template.followers)}${template.note ? `. ${template.note}` : ''}`}
              mark={
                template.departed > 0 ? (
                  <Words size="small" strong tone="ochre">
                    {`${template.departed} differ`}
                  </Words>
                ) : null
              }
              href={`/templates/${encodeURIComponent(template.id)}`}
            />
          ))}
        </View>
      )}
    </PageFrame>
  );
}
