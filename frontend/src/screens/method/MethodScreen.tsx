import { Skeleton } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useLocation } from "react-router";
import { methodQuery } from "../../api/queries/frame";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import "./method.css";

/** How every figure, limit and notice is worked out, from the classes that do it. */
export default function MethodScreen({ place }: { place: Place }) {
  const method = useQuery(methodQuery(place.squad.slug));
  const { hash } = useLocation();
  useEffect(() => {
    if (method.data && hash) document.getElementById(hash.slice(1))?.scrollIntoView();
  }, [method.data, hash]);
  if (method.isError)
    return (
      <Message title="The method could not be loaded" action="Try again" onAction={() => method.refetch()}>
        {method.error.message}
      </Message>
    );
  const data = method.data;
  return (
    <>
      <div className="summary">
        <h1>
          <b>How it is worked out</b>
        </h1>
        <div className="summary-end">
          <button type="button" className="text-button" onClick={() => window.print()}>
            Print
          </button>
        </div>
      </div>
      {!data ? (
        <Skeleton height="360px" m="5" />
      ) : (
        <div className="method">
          <nav aria-label="On this page">
            {data.sections.map((section) => (
              <a key={section.code} href={`#${section.code}`}>
                {section.title}
              </a>
            ))}
            <a href="#notices">Notices</a>
          </nav>
          <article>
            {data.sections.map((section) => (
              <section key={section.code} id={section.code}>
                <h2>{section.title}</h2>
                {section.paragraphs.map((paragraph) => (
                  <p key={paragraph}>{paragraph}</p>
                ))}
                <dl>
                  {section.terms.map(([name, meaning, source]) => (
                    <div key={name}>
                      <dt>{name}</dt>
                      <dd>
                        {meaning} <span className="quiet">{source}</span>
                      </dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
            <section id="notices">
              <h2>Notices</h2>
              <dl>
                {data.notices.map((kind) => (
                  <div key={kind.code} id={kind.code}>
                    <dt>{kind.name}</dt>
                    <dd>
                      {kind.rule} <span className="quiet">Clears with: {kind.cleared}</span>{" "}
                      <span className="quiet">{kind.source}</span>
                    </dd>
                  </div>
                ))}
              </dl>
            </section>
          </article>
        </div>
      )}
    </>
  );
}
